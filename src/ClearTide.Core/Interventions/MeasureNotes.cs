using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Interventions;

/// <summary>What somebody who has written a measure should know of it: that it does nothing, or meets another one.</summary>
public static class MeasureNotes
{
    /// <summary>Sentences about one measure over a window, the gravest first; none where there is nothing to say.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="network">Its network, for the values as they are without measures.</param>
    /// <param name="scenario">The scenario that it is of.</param>
    /// <param name="measure">One of its measures.</param>
    /// <param name="now">Where the future begins, or negative infinity.</param>
    public static IEnumerable<string> Of(StudyDocument document, ReactionNetwork network, Scenario scenario, Measure measure, double now)
    {
        var time = document.TimeUnit.Plural;
        if (network.IndexOf(measure.Address) is not (>= 0 and var index))
        {
            yield return $"{measure.Address} is no longer a value of the model. Choose another one.";
            yield break;
        }
        if (Idle(measure, network.Values[index].Value, document, now) is { } idle)
        {
            yield return idle;
            yield break;
        }
        foreach (
            var other in document
                .Whole(scenario)
                .Measures.Where(one => one.Id != measure.Id && one.Address == measure.Address && Meet(one, measure))
        )
        {
            var (from, until) = (Math.Max(other.From, measure.From), Math.Min(other.Until, measure.Until));
            yield return $"It meets “{other.Label}” on {time} {NumberWords.Of(from)} to {NumberWords.Of(until)}: {Order(measure, other)}.";
        }
    }

    /// <summary>Sentences about a rule that puts something in the place of an input which another rule does too.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="scenario">The scenario that it is of.</param>
    /// <param name="rule">One of its rules.</param>
    public static IEnumerable<string> Of(StudyDocument document, Scenario scenario, EventRule rule)
    {
        var rules = document.Whole(scenario).Rules;
        var places = rules.Select(one => Place(one, document)).ToList();
        var at = rules.ToList().FindIndex(one => one.Id == rule.Id);
        if (at < 0 || places[at] is not { } own)
            return [];
        // Of two that begin at one time the one further down holds.
        return rules
            .Where((_, k) => places[k] is { } other && other.Symbol == own.Symbol && (other.From, k).CompareTo((own.From, at)) > 0)
            .Select(one => $"From {NumberWords.Of(Place(one, document)!.Value.From)} on “{one.Text}” takes its place.");
    }

    private static (string Symbol, double From)? Place(EventRule rule, StudyDocument document) =>
        InsteadLine.Read(rule.Text).Line is { } line && line.Begin(document) is { } begin ? (line.Symbol, begin) : null;

    private static bool Meet(Measure one, Measure other) => Math.Max(one.From, other.From) < Math.Min(one.Until, other.Until);

    private static string? Idle(Measure measure, double baseline, StudyDocument document, double now) =>
        measure.Until <= document.Start || measure.From >= document.End ? "It does nothing: its time is outside the span."
        : measure.Until <= now ? "It does nothing: its time lies before the data end, where every scenario is the baseline."
        : measure.Kind == MeasureKind.Scale && measure.Factor == 1 ? "It does nothing: it multiplies by one."
        : measure.Kind == MeasureKind.Shift && measure.Factor == 0 ? "It does nothing: it adds nothing."
        : measure.Kind == MeasureKind.Set && measure.Factor == baseline
            ? $"It does nothing: {measure.Address} is {NumberWords.Of(baseline)} already."
        : measure.Kind == MeasureKind.Scale && baseline == 0 ? $"It does nothing: {measure.Address} is zero, and multiplied it stays so."
        : null;

    private static string Order(Measure measure, Measure other) =>
        (measure.Kind, other.Kind) switch
        {
            (MeasureKind.Set, MeasureKind.Set) => "of two that set a value the one further down holds",
            (MeasureKind.Scale, MeasureKind.Scale) => "both factors are multiplied",
            (MeasureKind.Shift, MeasureKind.Shift) => "both are added",
            _ => "a value is set first, then multiplied, then added to",
        };
}
