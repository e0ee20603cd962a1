using ClearTide.Core.Models;
using ClearTide.Core.Units;

namespace ClearTide.Web.Studies;

/// <summary>What empty fields propose, in the study's own unit of time.</summary>
public static class FieldExamples
{
    /// <summary>A rate as it could be typed for a flow of that kind.</summary>
    public static string Rate(StudyDocument document, Flow flow)
    {
        var from = document.Compartment(flow.From)?.Symbol;
        return flow.Kind switch
        {
            RateKind.PerHead => $"0.2 per {document.TimeUnit.Singular}",
            RateKind.MeanStay => $"5 {document.TimeUnit.Plural}",
            _ => from is null ? $"5 per {document.TimeUnit.Singular}" : $"k * {from}",
        };
    }
}
