using ClearTide.Core.Compilation;
using ClearTide.Core.Model;

namespace ClearTide.Core.Interventions;

/// <summary>
/// Puts into a scenario what is done at times or on conditions, typed as an event is: a new one where <paramref name="RuleId"/> is null,
/// else in place of the one with that id.
/// </summary>
/// <param name="ScenarioId">Id of the scenario.</param>
/// <param name="RuleId">Id of the rule to be replaced, or null.</param>
/// <param name="Text">The rule as typed.</param>
public sealed record SetRule(string ScenarioId, string? RuleId, string Text) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Scenarios.FirstOrDefault(candidate => candidate.Id == ScenarioId) is not { } scenario)
            return EditResult.Refused("This scenario is no longer in the study.");
        var text = Text.Trim();
        if (text.Length > MeasureLine.Longest)
            return EditResult.Refused($"A measure has at most {MeasureLine.Longest} characters.");
        if (RuleId is null && scenario.Measures.Length + scenario.Rules.Length >= SetMeasure.MostMeasures)
            return EditResult.Refused($"A scenario holds at most {SetMeasure.MostMeasures} measures.");
        if (RuleId is not null && scenario.Rules.All(one => one.Id != RuleId))
            return EditResult.Refused("This measure is no longer in the scenario.");
        var rule = new EventRule(RuleId ?? "m" + document.NextId, "", text);
        if (Replacement.Begins(text) && Replacement.In(document, text, double.NegativeInfinity) is { Document: null, Problem: var why })
            return EditResult.Refused(why!);
        var tried = Lowering.Lower(ScenarioModel.With(document, [rule], double.NegativeInfinity));
        if (ScenarioModel.Problem(tried, rule.Id) is { } problem)
            return EditResult.Refused(problem);
        var rules = RuleId is null
            ? scenario.Rules.Add(rule)
            : [.. scenario.Rules.Select(one => one.Id == RuleId ? one with { Text = text } : one)];
        return document with
        {
            Scenarios = document.Scenarios.Replace(scenario, scenario with { Rules = rules }),
            NextId = document.NextId + 1,
        };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"measure: {Text.Trim()}";
}
