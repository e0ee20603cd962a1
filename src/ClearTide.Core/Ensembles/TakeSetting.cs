using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Ensembles;

/// <summary>Makes a scenario of what was found: a copy of the one it was found in, which stays as it is.</summary>
/// <param name="ScenarioId">Id of the scenario.</param>
/// <param name="MeasureId">Id of the measure.</param>
/// <param name="Setting">What of the measure is set.</param>
/// <param name="Value">What it is set to.</param>
public sealed record TakeSetting(string ScenarioId, string MeasureId, MeasureSetting Setting, double Value) : Edit
{
    /// <summary>The second setting that was found with it, and its number; null where there is none.</summary>
    public (string MeasureId, MeasureSetting Setting, double Value)? Second { get; init; }

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var place = document.Scenarios.ToList().FindIndex(one => one.Id == ScenarioId);
        (string MeasureId, MeasureSetting Setting, double Value)[] settings = Second is { } other
            ? [(MeasureId, Setting, Value), other]
            : [(MeasureId, Setting, Value)];
        if (place < 0 || settings.Any(one => document.Scenarios[place].Measures.All(measure => measure.Id != one.MeasureId)))
            return EditResult.Refused("This measure is no longer in the study.");
        var scenario = document.Scenarios[place];
        if (MeasureSearch.With(scenario, settings) is not { } changed)
            return EditResult.Refused("With this setting the measure would end before it begins.");
        var result = new DuplicateScenario(ScenarioId).Apply(document);
        if (result.Document is not { } made)
            return result;
        var copy = made.Scenarios[place + 1];
        // Measures of the copy stand where they stood; a label that only says what a measure does goes with it.
        var measures = copy.Measures.Select(
            (one, k) =>
            {
                var (was, now) = (scenario.Measures[k], changed.Measures[k]);
                return now with { Id = one.Id, Label = was.Label == MeasureLine.Change(was) ? MeasureLine.Change(now) : now.Label };
            }
        );
        return made with { Scenarios = made.Scenarios.SetItem(place + 1, copy with { Measures = [.. measures] }) };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"scenario from a search, {NumberWords.Of(Value, 4)}";
}
