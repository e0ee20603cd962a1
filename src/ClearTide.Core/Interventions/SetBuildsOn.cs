using System.Collections.Immutable;
using ClearTide.Core.Model;

namespace ClearTide.Core.Interventions;

/// <summary>Says which scenarios a scenario builds on: it has their measures besides its own.</summary>
/// <param name="ScenarioId">Id of the scenario.</param>
/// <param name="Others">Ids of the scenarios that it builds on; none for the baseline alone.</param>
public sealed record SetBuildsOn(string ScenarioId, ImmutableArray<string> Others) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Scenarios.FirstOrDefault(one => one.Id == ScenarioId) is not { } scenario)
            return EditResult.Refused("This scenario is no longer in the study.");
        ImmutableArray<string> others = [.. document.Scenarios.Select(one => one.Id).Where(id => Others.Contains(id))];
        if (others.Contains(ScenarioId))
            return EditResult.Refused($"“{scenario.Name}” cannot build on itself.");
        if (others.FirstOrDefault(id => Reaches(document, id, [])) is { } circle)
            return EditResult.Refused(
                $"“{ScenarioNames.Of(document, circle)}” builds on “{scenario.Name}” already. One of the two goes without the " + "other."
            );
        return document with { Scenarios = document.Scenarios.Replace(scenario, scenario with { BuildsOn = others }) };
    }

    /// <summary>Whether a scenario builds on this one, by others or itself.</summary>
    private bool Reaches(StudyDocument document, string id, HashSet<string> seen) =>
        id == ScenarioId
        || seen.Add(id)
            && document.Scenarios.FirstOrDefault(one => one.Id == id) is { } scenario
            && scenario.BuildsOn.Any(other => Reaches(document, other, seen));

    /// <inheritdoc/>
    public override string Describe(StudyDocument before)
    {
        var others = Others.IsEmpty ? "no other" : string.Join(" and ", Others.Select(id => ScenarioNames.Of(before, id)));
        return $"scenario {ScenarioNames.Of(before, ScenarioId)} builds on {others}";
    }
}
