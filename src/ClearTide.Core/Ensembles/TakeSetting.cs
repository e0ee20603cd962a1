using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Ensembles;

/// <summary>Makes a scenario of a setting that was found: a copy of the one it was found in, which stays as it is.</summary>
/// <param name="ScenarioId">Id of the scenario.</param>
/// <param name="MeasureId">Id of the measure.</param>
/// <param name="Setting">What of the measure is set.</param>
/// <param name="Value">What it is set to.</param>
public sealed record TakeSetting(string ScenarioId, string MeasureId, MeasureSetting Setting, double Value) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var place = document.Scenarios.ToList().FindIndex(one => one.Id == ScenarioId);
        var at = place < 0 ? -1 : document.Scenarios[place].Measures.ToList().FindIndex(one => one.Id == MeasureId);
        if (at < 0)
            return EditResult.Refused("This measure is no longer in the study.");
        if (MeasureSearch.With(document.Scenarios[place].Measures[at], Setting, Value) is null)
            return EditResult.Refused("With this setting the measure would end before it begins.");
        var result = new DuplicateScenario(ScenarioId).Apply(document);
        if (result.Document is not { } made)
            return result;
        var copy = made.Scenarios[place + 1];
        var changed = MeasureSearch.With(copy.Measures[at], Setting, Value)!;
        // A label that only says what the measure does goes with it.
        if (copy.Measures[at].Label == MeasureLine.Change(copy.Measures[at]))
            changed = changed with { Label = MeasureLine.Change(changed) };
        return made with { Scenarios = made.Scenarios.SetItem(place + 1, copy with { Measures = copy.Measures.SetItem(at, changed) }) };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"scenario from a search, {NumberWords.Of(Value, 4)}";
}
