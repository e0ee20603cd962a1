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

    /// <summary>
    /// Something given again and again, as medicines are said by the hour, and what is counted in weeks or years by
    /// those.
    /// </summary>
    /// <returns>A line, and what it says.</returns>
    public static (string Line, string Says) Repeated(TimeUnit unit) =>
        unit.Seconds <= TimeUnit.Day.Seconds
            ? ("every 12 hours from 0 until 7 days: -> G : 200 mg", "doses; over 30 minutes spreads each, after 1 hour lets it come later")
            : (
                $"every 2 {unit.Plural} from 0 until 20 {unit.Plural}: -> G : 200",
                $"something added again and again; over 0.5 {unit.Plural} spreads each, after 1 {unit.Singular} lets it come later"
            );

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
