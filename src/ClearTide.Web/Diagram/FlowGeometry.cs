using System.Globalization;
using ClearTide.Core.Model;

namespace ClearTide.Web.Diagram;

/// <summary>The centre line of a ribbon: one cubic curve from rim to rim, or from a rim to an open end.</summary>
public sealed record FlowLine(double X1, double Y1, double CX1, double CY1, double CX2, double CY2, double X2, double Y2)
{
    /// <summary>How much of the line its head takes up.</summary>
    public const double HeadLength = 11;

    /// <summary>The direction in which it arrives, of length one.</summary>
    public (double X, double Y) Heading
    {
        get
        {
            var (x, y) = (X2 - CX2, Y2 - CY2);
            var length = Math.Sqrt(x * x + y * y);
            return length > 0 ? (x / length, y / length) : (1, 0);
        }
    }

    /// <summary>The path of the ribbon, which ends where its head begins.</summary>
    public string Path =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"M{X1:0.#} {Y1:0.#} C{CX1:0.#} {CY1:0.#} {CX2:0.#} {CY2:0.#} {X2 - HeadLength * Heading.X:0.#} "
                + $"{Y2 - HeadLength * Heading.Y:0.#}"
        );

    /// <summary>The path of a ribbon that has no head.</summary>
    public string Whole =>
        string.Create(CultureInfo.InvariantCulture, $"M{X1:0.#} {Y1:0.#} C{CX1:0.#} {CY1:0.#} {CX2:0.#} {CY2:0.#} {X2:0.#} {Y2:0.#}");

    /// <summary>A point of the curve, from 0 at its start to 1 at its end.</summary>
    public (double X, double Y) At(double part)
    {
        var left = 1 - part;
        var (a, b, c, d) = (left * left * left, 3 * left * left * part, 3 * left * part * part, part * part * part);
        return (a * X1 + b * CX1 + c * CX2 + d * X2, a * Y1 + b * CY1 + c * CY2 + d * Y2);
    }

    /// <summary>How many stretches of the curve its extent is taken from.</summary>
    private const int Stretches = 8;

    /// <summary>The box that holds the curve.</summary>
    public Box Extent =>
        Box.Hull(
            Enumerable.Range(0, Stretches + 1).Select(k => At(k / (double)Stretches)).Select(point => new Box(point.X, point.Y, 0, 0))
        );

    /// <summary>The direction across the curve at a point of it, of length one.</summary>
    public (double X, double Y) Across(double part)
    {
        var ((x1, y1), (x2, y2)) = (At(Math.Max(0, part - 0.01)), At(Math.Min(1, part + 0.01)));
        var length = Math.Sqrt((x2 - x1) * (x2 - x1) + (y2 - y1) * (y2 - y1));
        return length > 0 ? (-(y2 - y1) / length, (x2 - x1) / length) : (0, -1);
    }

    /// <summary>The same line with its middle moved: both control points go four thirds of the way.</summary>
    public FlowLine Bent(Offset? bend) =>
        bend is null
            ? this
            : this with
            {
                CX1 = CX1 + 4 * bend.X / 3,
                CX2 = CX2 + 4 * bend.X / 3,
                CY1 = CY1 + 4 * bend.Y / 3,
                CY2 = CY2 + 4 * bend.Y / 3,
            };
}

/// <summary>One ribbon to be drawn between what it docks at; null is an open end.</summary>
/// <param name="Open">Where an open end was put, from the corner of the box at the other end.</param>
public sealed record Leg(string Key, DockNode? From, DockNode? To, Offset? Bend = null, Offset? Open = null);

/// <summary>Draws ribbons between boxes: from the side that faces the other box, several on one side spread along it.</summary>
public static class FlowGeometry
{
    private const double OpenLength = 84;

    private enum Side
    {
        Left,
        Right,
        Top,
        Bottom,
    }

    /// <summary>The line of each leg by its key.</summary>
    /// <param name="nodes">All that stands on the paper: open ends look for a side where nothing is in their way.</param>
    public static IReadOnlyDictionary<string, FlowLine> Lines(IReadOnlyList<Leg> legs, IReadOnlyList<DockNode> nodes)
    {
        var docks = new List<DockPlace>();
        foreach (var leg in legs)
        {
            if (leg is { From: { } from, To: { } to })
            {
                var (leave, enter) = Facing(from.Box, to.Box);
                docks.Add(new(leg.Key, from, leave, true, Along(leave, to.Box)));
                docks.Add(new(leg.Key, to, enter, false, Along(enter, from.Box)));
            }
            else if ((leg.From ?? leg.To) is { } only)
            {
                var side = leg.Open is { } open
                    ? Towards(only.Box, open)
                    : FreeSide(
                        only,
                        leg.From is null ? [Side.Left, Side.Top, Side.Bottom, Side.Right] : [Side.Bottom, Side.Right, Side.Top, Side.Left],
                        nodes
                    );
                docks.Add(
                    new(
                        leg.Key,
                        only,
                        side,
                        leg.From is not null,
                        leg.Open is { } place ? (side is Side.Left or Side.Right ? only.Box.Y + place.Y : only.Box.X + place.X)
                            : side is Side.Left ? only.Box.Y
                            : only.Box.X
                    )
                );
            }
        }
        // The flows on one side of a box, in the order of what they lead to.
        var rows = docks
            .GroupBy(dock => (dock.Node, dock.Side))
            .SelectMany(row =>
                row.OrderBy(dock => dock.Towards)
                    .ThenBy(dock => dock.Key, StringComparer.Ordinal)
                    .Select((dock, place) => (dock, Share: (place + 1.0) / (row.Count() + 1)))
            )
            .ToDictionary(pair => (pair.dock.Key, pair.dock.Leaves), pair => Dock(pair.dock.Side, pair.Share, pair.dock.Node.Box));
        return legs.Where(leg => leg.From is not null || leg.To is not null)
            .ToDictionary(leg => leg.Key, leg => Line(rows, leg).Bent(leg.Bend));
    }

    /// <summary>Where one end of a ribbon meets a box.</summary>
    /// <param name="Towards">Where along the side it heads for.</param>
    private sealed record DockPlace(string Key, DockNode Node, Side Side, bool Leaves, double Towards);

    private static FlowLine Line(Dictionary<(string, bool), (double X, double Y, Side Side)> docks, Leg leg)
    {
        var start = leg.From is null ? ((double X, double Y, Side Side)?)null : docks[(leg.Key, true)];
        var end = leg.To is null ? ((double X, double Y, Side Side)?)null : docks[(leg.Key, false)];
        var a = start ?? Open(end!.Value, leg.To!.Box, leg.Open);
        var b = end ?? Open(start!.Value, leg.From!.Box, leg.Open);
        var reach = Math.Max(28, 0.5 * (a.Side is Side.Left or Side.Right ? Math.Abs(b.X - a.X) : Math.Abs(b.Y - a.Y)));
        var (cx1, cy1) = Out(a.X, a.Y, a.Side, reach);
        var (cx2, cy2) = Out(b.X, b.Y, b.Side, reach);
        return new(a.X, a.Y, cx1, cy1, cx2, cy2, b.X, b.Y);
    }

    private static (Side Leave, Side Enter) Facing(Box from, Box to)
    {
        var (dx, dy) = (to.CentreX - from.CentreX, to.CentreY - from.CentreY);
        if (Math.Abs(dx) > (from.Width + to.Width) / 2 + 10)
            return dx > 0 ? (Side.Right, Side.Left) : (Side.Left, Side.Right);
        return dy > 0 ? (Side.Bottom, Side.Top) : (Side.Top, Side.Bottom);
    }

    private static double Along(Side side, Box other) => side is Side.Left or Side.Right ? other.CentreY : other.CentreX;

    /// <summary>The first side before which there is room for an open end.</summary>
    private static Side FreeSide(DockNode node, Side[] sides, IReadOnlyList<DockNode> nodes)
    {
        Box Before(Side side) =>
            side switch
            {
                Side.Left => new(node.Box.X - OpenLength, node.Box.Y, OpenLength, node.Box.Height),
                Side.Right => new(node.Box.Right, node.Box.Y, OpenLength, node.Box.Height),
                Side.Top => new(node.Box.X, node.Box.Y - OpenLength, node.Box.Width, OpenLength),
                _ => new(node.Box.X, node.Box.Bottom, node.Box.Width, OpenLength),
            };
        foreach (var side in sides)
        {
            if (nodes.All(other => other == node || !other.Box.Overlaps(Before(side))))
                return side;
        }
        return sides[0];
    }

    /// <summary>The side of a box that faces an open end.</summary>
    private static Side Towards(Box box, Offset open)
    {
        var (dx, dy) = ((open.X - box.Width / 2) / box.Width, (open.Y - box.Height / 2) / box.Height);
        return Math.Abs(dx) > Math.Abs(dy) ? (dx > 0 ? Side.Right : Side.Left)
            : dy > 0 ? Side.Bottom
            : Side.Top;
    }

    /// <summary>Where a ribbon meets a box: those on one side share its length.</summary>
    private static (double X, double Y, Side Side) Dock(Side side, double share, Box box) =>
        side switch
        {
            Side.Left => (box.X, box.Y + share * box.Height, Side.Left),
            Side.Right => (box.Right, box.Y + share * box.Height, Side.Right),
            Side.Top => (box.X + share * box.Width, box.Y, Side.Top),
            _ => (box.X + share * box.Width, box.Bottom, Side.Bottom),
        };

    private static (double X, double Y, Side Side) Open((double X, double Y, Side Side) dock, Box box, Offset? open)
    {
        var (x, y) = open is null ? Out(dock.X, dock.Y, dock.Side, OpenLength) : (box.X + open.X, box.Y + open.Y);
        return (
            x,
            y,
            dock.Side switch
            {
                Side.Left => Side.Right,
                Side.Right => Side.Left,
                Side.Top => Side.Bottom,
                _ => Side.Top,
            }
        );
    }

    private static (double X, double Y) Out(double x, double y, Side side, double distance) =>
        side switch
        {
            Side.Left => (x - distance, y),
            Side.Right => (x + distance, y),
            Side.Top => (x, y - distance),
            _ => (x, y + distance),
        };
}
