using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Print;
using ClearTide.Web.Curves;

namespace ClearTide.Web.Diagram;

/// <summary>Where what a reaction takes comes together and what it makes goes out from.</summary>
/// <param name="Caption">Its rate in print.</param>
public sealed record ReactionView(Reaction Part, Box Box, string Caption, bool Unfinished, CaptionPlace Place);

/// <summary>A ribbon between a reaction's reaction node and a plate.</summary>
/// <param name="Takes">Whether it leads to the reaction node.</param>
/// <param name="Count">How many for each unit of the reaction; 1 where that is a formula.</param>
public sealed record ReactionLeg(Leg Leg, Reaction Part, bool Takes, double Count, int Colour);

/// <summary>Finds each reaction a place between what it takes and what it makes.</summary>
public static class ReactionNodes
{
    private const double Size = 14,
        Beside = 130,
        Air = 16,
        Step = 34;
    private const int Tries = 14;

    /// <summary>The reaction nodes of all reactions that can be read, as nodes for ribbons to dock at.</summary>
    public static IReadOnlyList<(Reaction Part, ReactionLine Line, DockNode Node)> Place(
        StudyDocument document,
        IReadOnlyList<DockNode> nodes
    )
    {
        var taken = nodes.Select(node => node.Box).ToList();
        var all = new List<(Reaction, ReactionLine, DockNode)>();
        foreach (var part in document.Reactions)
        {
            if (ReactionLine.Read(part.Text).Line is not { } line)
                continue;
            var (takes, makes) = (Middle(document, nodes, line.Takes), Middle(document, nodes, line.Makes));
            if ((takes ?? makes) is not { } one)
                continue;
            var (x, y) =
                takes is { } a && makes is { } b ? ((a.X + b.X) / 2, (a.Y + b.Y) / 2) : (one.X + (makes is null ? Beside : -Beside), one.Y);
            var box = Free(Box.Around(x, y, Size, Size), taken);
            taken.Add(box);
            all.Add((part, line, new(part.Id, DockKind.ReactionNode, box, [])));
        }
        return all;
    }

    private static (double X, double Y)? Middle(StudyDocument document, IReadOnlyList<DockNode> nodes, IReadOnlyList<ReactionEnd> ends)
    {
        var boxes = ends.Select(end => document.CompartmentBySymbol(end.Name.Name))
            .OfType<Compartment>()
            .Select(part => nodes.FirstOrDefault(node => node.Compartments.Contains(part.Id))?.Box)
            .OfType<Box>()
            .ToList();
        return boxes.Count == 0 ? null : (boxes.Average(box => box.CentreX), boxes.Average(box => box.CentreY));
    }

    /// <summary>The nearest place up or down from the one wanted that covers nothing.</summary>
    private static Box Free(Box wanted, IReadOnlyList<Box> taken)
    {
        for (var k = 0; k < Tries; k++)
        {
            var box = wanted with { Y = wanted.Y + (k % 2 == 0 ? 1 : -1) * Step * ((k + 1) / 2) };
            if (!taken.Any(other => other.Overlaps(box.Grown(Air))))
                return box;
        }
        return wanted;
    }

    /// <summary>The ribbons of a reaction: from each plate that it takes from to its reaction node, and from there to each that it
    /// makes.</summary>
    public static IEnumerable<ReactionLeg> Legs(
        StudyDocument document,
        Reaction part,
        ReactionLine line,
        DockNode reactionNode,
        IReadOnlyList<DockNode> nodes
    )
    {
        var k = 0;
        foreach (var end in line.Ends)
        {
            var takes = !line.Makes.Contains(end);
            if (
                document.CompartmentBySymbol(end.Name.Name) is not { } plate
                || nodes
                    .Where(node => node.Compartments.Contains(plate.Id))
                    .MinBy(node =>
                        Math.Abs(node.Box.CentreX - reactionNode.Box.CentreX) + Math.Abs(node.Box.CentreY - reactionNode.Box.CentreY)
                    )
                    is not { } node
            )
                continue;
            yield return new(
                takes ? new($"{part.Id}-{k}", node, reactionNode) : new($"{part.Id}-{k}", reactionNode, node),
                part,
                takes,
                end.Whole ?? (end.Count as NumberSyntax)?.Value ?? 1,
                Palette.Of(document, plate.Id)
            );
            k++;
        }
    }

    /// <summary>The rate in print, cut where it is longer than a caption.</summary>
    public static string Caption(ReactionLine line, int longest)
    {
        var text = PlainPrint.Of(line.RateText);
        return text.Length > longest ? text[..(longest - 1)] + "…" : text;
    }
}
