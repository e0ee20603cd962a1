using System.Collections.Immutable;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;

namespace ClearTide.Web.Diagram;

public enum DockKind
{
    Compartment,
    Reference,
    Region,
    ReactionNode,
}

/// <summary>What flows dock at: a compartment's plate, a reference to one, a folded region, or the reaction node of a reaction.</summary>
/// <param name="Compartments">Ids of the compartments it stands for.</param>
public sealed record DockNode(string Id, DockKind Kind, Box Box, ImmutableArray<string> Compartments)
{
    private const double ReferenceWidth = 92,
        ReferenceHeight = 40,
        RegionWidth = 150;

    /// <summary>A folded region is drawn this much larger than a plate at most; a wide one stays legible from far away.</summary>
    private const double LargestFolded = 3;

    /// <summary>All that stands on a study's paper for flows to dock at. Compartments of a folded region are not shown
    /// themselves.</summary>
    public static IReadOnlyList<DockNode> All(StudyDocument document)
    {
        var folded = document.Regions.Where(region => region.Folded).SelectMany(region => region.Members).ToHashSet();
        return
        [
            .. document
                .Compartments.Where(part => !folded.Contains(part.Id))
                .Select(part => new DockNode(part.Id, DockKind.Compartment, Plate(document, part), [part.Id])),
            .. document.References.Select(mark => new DockNode(
                mark.Id,
                DockKind.Reference,
                new(mark.X, mark.Y, ReferenceWidth, ReferenceHeight),
                [mark.Of]
            )),
            .. document
                .Regions.Where(region => region.Folded)
                .Select(region => new DockNode(region.Id, DockKind.Region, Folded(document, region), region.Members)),
        ];
    }

    public static Box Plate(StudyDocument document, Compartment part) =>
        new(part.X, part.Y, PlatePlacing.Width, PlatePlacing.HeightOf(document, part));

    /// <summary>The area that a region's plates take up.</summary>
    public static Box Area(StudyDocument document, Region region) =>
        Box.Hull(document.Compartments.Where(part => region.Members.Contains(part.Id)).Select(part => Plate(document, part)));

    private static Box Folded(StudyDocument document, Region region)
    {
        var area = Area(document, region);
        var scale = Math.Clamp(area.Width / (2.2 * RegionWidth), 1, LargestFolded);
        return Box.Around(
            Math.Round(area.CentreX),
            Math.Round(area.CentreY),
            Math.Round(scale * RegionWidth),
            Math.Round(scale * PlatePlacing.Height)
        );
    }
}
