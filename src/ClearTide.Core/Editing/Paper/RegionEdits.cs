using System.Collections.Immutable;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Collects compartments in a new region, out of those they were in.</summary>
/// <param name="Label">The name that people read.</param>
/// <param name="PartIds">Ids of the compartments, one at least.</param>
public sealed record AddRegion(string Label, ImmutableArray<string> PartIds) : Edit
{
    /// <summary>Characters that the label of a region has at most.</summary>
    public const int LongestLabel = 60;

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var members = document.Compartments.Where(part => PartIds.Contains(part.Id)).Select(part => part.Id).ToImmutableArray();
        if (members.IsEmpty)
            return EditResult.Refused("A region collects compartments: select one or more of them first.");
        var label = Label.Trim();
        if (label.Length > LongestLabel)
            return EditResult.Refused($"The name of a region has at most {LongestLabel} characters.");
        var region = new Region($"g{document.NextId}", label.Length == 0 ? $"Region {document.Regions.Length + 1}" : label, members);
        return document with { NextId = document.NextId + 1, Regions = RegionEdits.Without(document.Regions, members).Add(region) };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        $"region {Label.Trim()}: {PartIds.Count(id => before.Compartment(id) is not null)} compartments";
}

/// <summary>Changes a region: its name, whether it is folded, its members. A region without members is gone.</summary>
/// <param name="RegionId">Id of the region.</param>
/// <param name="Label">Its new name, or null to keep it.</param>
/// <param name="Folded">Whether it is folded, or null to keep that.</param>
/// <param name="Members">Ids of its compartments, or null to keep them.</param>
public sealed record ChangeRegion(string RegionId, string? Label = null, bool? Folded = null, ImmutableArray<string>? Members = null) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Regions.FirstOrDefault(region => region.Id == RegionId) is not { } region)
            return EditResult.Refused("This region is no longer in the study.");
        if (Label is not null && Label.Trim().Length is 0 or > AddRegion.LongestLabel)
            return EditResult.Refused($"A region has a name of 1 to {AddRegion.LongestLabel} characters.");
        var members = Members is { } wanted
            ? [.. document.Compartments.Where(part => wanted.Contains(part.Id)).Select(part => part.Id)]
            : region.Members;
        var others = Members is null ? document.Regions : RegionEdits.Without(document.Regions, members, except: RegionId);
        var changed = region with { Label = Label?.Trim() ?? region.Label, Folded = Folded ?? region.Folded, Members = members };
        return document with
        {
            Regions = [.. others.Select(other => other.Id == RegionId ? changed : other).Where(other => !other.Members.IsEmpty)],
        };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before)
    {
        var name = before.Regions.FirstOrDefault(region => region.Id == RegionId)?.Label ?? "region";
        return Label is not null ? $"region {name}: renamed {Label.Trim()}"
            : Folded is { } folded ? $"region {name}: {(folded ? "folded" : "unfolded")}"
            : Members is { Length: > 0 } ? $"region {name}: other members"
            : $"region {name}: taken away, its compartments stay";
    }
}

internal static class RegionEdits
{
    /// <summary>The regions with these compartments taken out; those left empty are gone.</summary>
    public static ImmutableArray<Region> Without(ImmutableArray<Region> regions, ImmutableArray<string> members, string except = "") =>
        [
            .. regions
                .Select(region => region.Id == except ? region : region with { Members = region.Members.RemoveAll(members.Contains) })
                .Where(region => region.Id == except || !region.Members.IsEmpty),
        ];
}
