using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Web.Words;

/// <summary>What empty fields propose, in the study's own unit of time.</summary>
public static class FieldExamples
{
    /// <summary>A year and parts of it as they are typed in a unit of time.</summary>
    public static (string Quarter, string Half, string Whole) Year(TimeUnit unit)
    {
        var year = TimeUnit.Year.Seconds / unit.Seconds;
        string Say(double time) => NumberWords.Of(time >= 10 ? Math.Round(time) : Math.Round(time, 2));
        return (Say(year / 4), Say(year / 2), $"{Say(year)} {(unit == TimeUnit.Year ? unit.Singular : unit.Plural)}");
    }

    /// <summary>The three ways to give a rate.</summary>
    public static string Kinds(TimeUnit unit) =>
        $"at 0.2 per {unit.Singular}: each leaves at that rate. after 5 {unit.Plural}: each stays so long on average. "
        + "A whole formula is the flow itself, in amount per time";

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
