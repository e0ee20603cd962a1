using ClearTide.Core.Model;

namespace ClearTide.Core.Interventions;

/// <summary>Adds a scenario like another one, behind it: to be changed in one thing.</summary>
/// <param name="ScenarioId">Id of the scenario.</param>
public sealed record DuplicateScenario(string ScenarioId) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Scenarios.FirstOrDefault(one => one.Id == ScenarioId) is not { } scenario)
            return EditResult.Refused("This scenario is no longer in the study.");
        var added = new AddScenario(ScenarioNames.Free(document, scenario.Name)).Apply(document);
        if (added.Document is not { } with)
            return added;
        var (made, next) = (with.Scenarios[^1], with.NextId);
        made = made with
        {
            Measures = [.. scenario.Measures.Select(measure => measure with { Id = "m" + next++ })],
            Rules = [.. scenario.Rules.Select(rule => rule with { Id = "m" + next++ })],
            BuildsOn = scenario.BuildsOn,
        };
        var ids = scenario.Measures.Select(one => one.Id).Concat(scenario.Rules.Select(one => one.Id));
        var copies = made.Measures.Select(one => one.Id).Concat(made.Rules.Select(one => one.Id));
        made = made with
        {
            Costs =
            [
                .. ids.Zip(copies)
                    .Select(pair => new MeasureCost(pair.Second, scenario.CostOf(pair.First)))
                    .Where(one => one.Text.Length > 0),
            ],
        };
        var others = with.Scenarios.RemoveAt(with.Scenarios.Length - 1);
        return with with { Scenarios = others.Insert(others.IndexOf(scenario) + 1, made), NextId = next };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"scenario {ScenarioNames.Of(before, ScenarioId)} duplicated";
}

/// <summary>Keeps a scenario without running it, or runs it again.</summary>
/// <param name="ScenarioId">Id of the scenario.</param>
/// <param name="Off">Whether it is left out of runs.</param>
public sealed record SwitchScenario(string ScenarioId, bool Off) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document) =>
        document.Scenarios.FirstOrDefault(one => one.Id == ScenarioId) is { } scenario
            ? document with
            {
                Scenarios = document.Scenarios.Replace(scenario, scenario with { IsOff = Off }),
            }
            : EditResult.Refused("This scenario is no longer in the study.");

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"scenario {ScenarioNames.Of(before, ScenarioId)} {(Off ? "off" : "on")}";
}

/// <summary>Puts a scenario one place forward; the first stays where it is.</summary>
/// <param name="ScenarioId">Id of the scenario.</param>
public sealed record MoveScenarioUp(string ScenarioId) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var place = document.Scenarios.ToList().FindIndex(one => one.Id == ScenarioId);
        if (place < 0)
            return EditResult.Refused("This scenario is no longer in the study.");
        return place == 0
            ? document
            : document with
            {
                Scenarios = document.Scenarios.RemoveAt(place).Insert(place - 1, document.Scenarios[place]),
            };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"scenario {ScenarioNames.Of(before, ScenarioId)} moved up";
}

/// <summary>Scenarios by what they are called.</summary>
internal static class ScenarioNames
{
    /// <summary>The name of a scenario; empty where it is gone.</summary>
    public static string Of(StudyDocument document, string scenarioId) =>
        document.Scenarios.FirstOrDefault(one => one.Id == scenarioId)?.Name ?? "";

    /// <summary>A name that no scenario has: the one that is wished for, cut to what a name may be, with a number behind it where it is
    /// taken.</summary>
    public static string Free(StudyDocument document, string wished)
    {
        const int longest = 54;
        var names = document.Scenarios.Select(one => one.Name).ToHashSet();
        var stem = wished.Length <= longest ? wished : wished[..(longest - 1)] + "…";
        return Enumerable.Range(1, 99).Select(k => k == 1 ? stem : $"{stem} ({k})").First(one => !names.Contains(one));
    }
}
