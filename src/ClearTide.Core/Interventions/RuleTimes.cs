using System.Globalization;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Interventions;

/// <summary>The times that a rule of a scenario says as numbers, which a calendar can move: <c>at 30</c>, <c>over 10 days</c>,
/// <c>from 30 until 90</c>.</summary>
/// <param name="From">When it begins, in the study's unit of time.</param>
/// <param name="Until">When it ends; null where it is a moment, or goes on.</param>
public sealed record RuleTimes(double From, double? Until)
{
    /// <summary>The times of a rule; null where it has none of its own, as on a condition, or says them as formulas or dates.</summary>
    /// <param name="text">The rule as typed.</param>
    /// <param name="document">The study, for its units.</param>
    public static RuleTimes? Of(string text, StudyDocument document)
    {
        var (from, until, isLength) = Literals(text);
        if (from is null)
            return null;
        var units = document.UnitTable();
        var begins = FormulaBinder.ValueOf(from, units);
        double? ends = until is null ? null : FormulaBinder.ValueOf(until, units);
        return new(begins, isLength ? begins + ends : ends);
    }

    /// <summary>The rule with these times in place of its own, in the units that they are typed in.</summary>
    /// <param name="text">The rule as typed; one that <see cref="Of"/> has times of.</param>
    /// <param name="document">The study, for its units.</param>
    public string In(string text, StudyDocument document)
    {
        var (from, until, isLength) = Literals(text);
        var units = document.UnitTable();
        // From the back, so that places in front stay what they are.
        if (until is not null && Until is { } ends)
            text = Put(text, until, isLength ? ends - From : ends, units);
        return from is null ? text : Put(text, from, From, units);
    }

    private static string Put(string text, NumberSyntax number, double value, UnitTable units)
    {
        var scale = FormulaBinder.ValueOf(number with { Value = 1 }, units);
        // Rounding of a conversion is not worth a digit.
        var typed = double.Parse((value / scale).ToString("G12", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
        return text[..number.Span.Start]
            + typed.ToString("R", CultureInfo.InvariantCulture)
            + text[(number.Span.Start + number.Text.Length)..];
    }

    private static (NumberSyntax? From, NumberSyntax? Until, bool IsLength) Literals(string text)
    {
        if (InsteadLine.Begins(text))
            return (InsteadLine.Read(text).Line?.From as NumberSyntax, null, false);
        if (DoseLine.Begins(text) || EventLine.Read(text).Line is not { } line)
            return default;
        return line.Kind switch
        {
            TriggerKind.At => (line.Trigger as NumberSyntax, line.Actions.Count == 1 ? line.Actions[0].Over as NumberSyntax : null, true),
            TriggerKind.Every => (line.From as NumberSyntax, line.Until as NumberSyntax, false),
            _ => default,
        };
    }
}

/// <summary>Gives a rule of a scenario other times, where it says them as numbers.</summary>
/// <param name="ScenarioId">Id of the scenario.</param>
/// <param name="RuleId">Id of the rule.</param>
/// <param name="From">When it begins, in the study's unit of time.</param>
/// <param name="Until">When it ends, where it says so.</param>
public sealed record MoveRule(string ScenarioId, string RuleId, double From, double Until) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var rule = document.Scenarios.FirstOrDefault(one => one.Id == ScenarioId)?.Rules.FirstOrDefault(one => one.Id == RuleId);
        if (rule is null)
            return EditResult.Refused("This measure is no longer in the scenario.");
        if (RuleTimes.Of(rule.Text, document) is not { } times)
            return EditResult.Refused("This measure has no times of its own. Type what it does anew.");
        if (!double.IsFinite(From) || !double.IsFinite(Until) || From < document.Start)
            return EditResult.Refused($"It begins at {NumberWords.Of(document.Start)} or later, where the span begins.");
        if (times.Until is not null && !(Until > From))
            return EditResult.Refused($"It must end after it begins at {NumberWords.Of(From)}. Type a later end.");
        var moved = new RuleTimes(From, times.Until is null ? null : Until);
        return new SetRule(ScenarioId, RuleId, moved.In(rule.Text, document)).Apply(document);
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => "moved a measure";
}
