using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Interventions;

/// <summary>Adds a scenario with no measures.</summary>
/// <param name="Name">Its name; a free one is made where it is taken.</param>
public sealed record AddScenario(string Name) : Edit
{
    /// <summary>Scenarios of one study at most.</summary>
    public const int MostScenarios = 12;

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var name = Name.Trim();
        if (Refusal(document.Scenarios, name) is { } refusal)
            return EditResult.Refused(refusal);
        if (document.Scenarios.Length >= MostScenarios)
            return EditResult.Refused($"A study holds at most {MostScenarios} scenarios.");
        return document with { Scenarios = document.Scenarios.Add(new("s" + document.NextId, name, [])), NextId = document.NextId + 1 };
    }

    /// <summary>Why a scenario cannot be called so beside others, or null.</summary>
    internal static string? Refusal(IEnumerable<Scenario> others, string name) =>
        name.Length is 0 or > 60 ? "A scenario's name has between 1 and 60 characters."
        : others.Any(scenario => scenario.Name == name) || name.Equals("Baseline", StringComparison.OrdinalIgnoreCase)
            ? $"There is a scenario “{name}” already. Choose another name."
        : null;

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"scenario: {Name.Trim()}";
}

/// <summary>Gives a scenario another name.</summary>
/// <param name="ScenarioId">Id of the scenario.</param>
/// <param name="Name">Its new name.</param>
public sealed record RenameScenario(string ScenarioId, string Name) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var name = Name.Trim();
        if (document.Scenarios.FirstOrDefault(candidate => candidate.Id == ScenarioId) is not { } scenario)
            return EditResult.Refused("This scenario is no longer in the study.");
        if (AddScenario.Refusal(document.Scenarios.Where(other => other.Id != ScenarioId), name) is { } refusal)
            return EditResult.Refused(refusal);
        return name == scenario.Name
            ? document
            : document with
            {
                Scenarios = document.Scenarios.Replace(scenario, scenario with { Name = name }),
            };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"scenario {ScenarioNames.Of(before, ScenarioId)} is called {Name.Trim()}";
}

/// <summary>Takes a scenario away with its measures.</summary>
/// <param name="ScenarioId">Id of the scenario.</param>
public sealed record RemoveScenario(string ScenarioId) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document) =>
        document with
        {
            Scenarios =
            [
                .. document
                    .Scenarios.Where(scenario => scenario.Id != ScenarioId)
                    .Select(scenario => scenario with { BuildsOn = scenario.BuildsOn.Remove(ScenarioId) }),
            ],
        };

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"removed scenario {ScenarioNames.Of(before, ScenarioId)}";
}

/// <summary>Puts a measure into a scenario: a new one where <paramref name="MeasureId"/> is null, else in place of the one with that
/// id.</summary>
/// <param name="ScenarioId">Id of the scenario.</param>
/// <param name="MeasureId">Id of the measure to be replaced, or null.</param>
/// <param name="Label">The name that people read.</param>
/// <param name="Address">The value that it changes.</param>
/// <param name="Factor">What the value is scaled by, set to, or shifted by.</param>
/// <param name="From">When it begins, in the unit of the study.</param>
/// <param name="Until">When it ends, after it begins; infinity for an open end.</param>
/// <param name="Kind">What is done with the value.</param>
public sealed record SetMeasure(
    string ScenarioId,
    string? MeasureId,
    string Label,
    ValueAddress Address,
    double Factor,
    double From,
    double Until,
    MeasureKind Kind = MeasureKind.Scale
) : Edit
{
    /// <summary>Measures of one scenario at most.</summary>
    public const int MostMeasures = 40;

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Scenarios.FirstOrDefault(candidate => candidate.Id == ScenarioId) is not { } scenario)
            return EditResult.Refused("This scenario is no longer in the study.");
        if (Label.Trim().Length is 0 or > 60)
            return EditResult.Refused("Name the measure in up to 60 characters, as in “Ferry pause”.");
        if (Kind == MeasureKind.Scale && (!double.IsFinite(Factor) || Factor < 0 || Factor > 1e6))
            return EditResult.Refused("The factor is a number of zero or more, as in 0.6.");
        if (!double.IsFinite(Factor))
            return EditResult.Refused("Type the value as a number, as in 0.2.");
        if (!double.IsFinite(From) || !double.IsFinite(Until))
            return EditResult.Refused("Type the window as two times, as in 55 and 90.");
        if (Until <= From)
            return EditResult.Refused($"The window must end after it begins at {From:0.###}. Type a later end.");
        if (Lowering.Lower(document).Network.IndexOf(Address) < 0)
            return EditResult.Refused($"There is no value “{Address}” in the model. Choose one from the list.");
        if (MeasureId is null && scenario.Measures.Length >= MostMeasures)
            return EditResult.Refused($"A scenario holds at most {MostMeasures} measures.");
        var made = new Measure(MeasureId ?? "m" + document.NextId, Label.Trim(), Address, Factor, From, Until) { Kind = Kind };
        var measures = MeasureId is null
            ? scenario.Measures.Add(made)
            : [.. scenario.Measures.Select(measure => measure.Id == MeasureId ? made : measure)];
        return document with
        {
            Scenarios = document.Scenarios.Replace(scenario, scenario with { Measures = measures }),
            NextId = document.NextId + 1,
        };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"measure: {Label.Trim()}";
}

/// <summary>Takes a measure out of a scenario.</summary>
/// <param name="ScenarioId">Id of the scenario.</param>
/// <param name="MeasureId">Id of the measure.</param>
public sealed record RemoveMeasure(string ScenarioId, string MeasureId) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document) =>
        document with
        {
            Scenarios =
            [
                .. document.Scenarios.Select(scenario =>
                    scenario.Id == ScenarioId
                        ? scenario with
                        {
                            Measures = scenario.Measures.RemoveAll(measure => measure.Id == MeasureId),
                            Rules = scenario.Rules.RemoveAll(rule => rule.Id == MeasureId),
                            Costs = scenario.Costs.RemoveAll(cost => cost.MeasureId == MeasureId),
                        }
                        : scenario
                ),
            ],
        };

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => "removed a measure";
}
