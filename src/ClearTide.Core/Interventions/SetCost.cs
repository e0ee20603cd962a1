using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Interventions;

/// <summary>Says what a measure of a scenario costs, as typed; empty for nothing.</summary>
/// <param name="ScenarioId">Id of the scenario.</param>
/// <param name="MeasureId">Id of the measure.</param>
/// <param name="Text">The costs as typed.</param>
public sealed record SetCost(string ScenarioId, string MeasureId, string Text) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Scenarios.FirstOrDefault(candidate => candidate.Id == ScenarioId) is not { } scenario)
            return EditResult.Refused("This scenario is no longer in the study.");
        var rule = scenario.Rules.FirstOrDefault(one => one.Id == MeasureId);
        if (rule is null && scenario.Measures.All(one => one.Id != MeasureId))
            return EditResult.Refused("This measure is no longer in the scenario.");
        var text = Text.Trim();
        var (cost, problem) = CostLine.Read(text, document.TimeUnit);
        if (cost is null)
            return EditResult.Refused(problem!);
        if (cost.EachUnit != 0 && (rule is null || EventLine.Read(rule.Text).Line?.Actions.Any(action => action.Over is not null) == true))
            return EditResult.Refused(
                rule is null
                    ? "This measure moves no units that could cost something each. Say what it costs per "
                        + $"{document.TimeUnit.Singular} or once."
                    : "What goes on over a time is not counted unit by unit. Say what it costs per "
                        + $"{document.TimeUnit.Singular} or each time."
            );
        var others = scenario.Costs.RemoveAll(one => one.MeasureId == MeasureId);
        var costs = text.Length == 0 ? others : others.Add(new(MeasureId, text));
        return document with { Scenarios = document.Scenarios.Replace(scenario, scenario with { Costs = costs }) };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        Text.Trim().Length == 0 ? "a measure costs nothing" : $"a measure costs {Text.Trim()}";
}
