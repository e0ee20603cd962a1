using System.Globalization;
using ClearTide.Core.Models;

namespace ClearTide.Web.Diagram;

/// <summary>The centre line of a flow's ribbon: one cubic curve from rim to rim, or from a rim to an open end.</summary>
public sealed record FlowLine(double X1, double Y1, double CX1, double CY1, double CX2, double CY2, double X2, double Y2)
{
    public string Path => string.Create(CultureInfo.InvariantCulture, $"M{X1:0.#} {Y1:0.#} C{CX1:0.#} {CY1:0.#} {CX2:0.#} {CY2:0.#} {X2:0.#} {Y2:0.#}");

    /// <summary>The middle of the curve, where its caption stands.</summary>
    public (double X, double Y) Middle => ((X1 + 3 * CX1 + 3 * CX2 + X2) / 8, (Y1 + 3 * CY1 + 3 * CY2 + Y2) / 8);

    /// <summary>The head of the ribbon: a triangle at its end, in the direction of the curve.</summary>
    public double HeadAngle => Math.Atan2(Y2 - CY2, X2 - CX2) * 180 / Math.PI;
}

/// <summary>Draws flows between plates: from the side that faces the other plate, several on one side spread along it.</summary>
public static class FlowGeometry
{
    private const double Width = PlatePlacing.Width;
    private const double Height = PlatePlacing.Height;
    private const double OpenLength = 84;

    private enum Side { Left, Right, Top, Bottom }

    /// <summary>The lines of each flow by its id, one for each end it leads to.</summary>
    public static IReadOnlyDictionary<string, IReadOnlyList<FlowLine>> Lines(StudyDocument document)
    {
        var legs = document.Flows.SelectMany(flow => flow.To.Select((target, place) => (Id: (flow.Id, place), From: document.Compartment(flow.From), To: document.Compartment(target.Id)))).ToList();
        var docks = new List<DockPlace>();
        foreach (var (id, from, to) in legs)
        {
            if (from is not null && to is not null)
            {
                var (leave, enter) = Facing(from, to);
                docks.Add(new(id, from.Id, leave, true, Along(leave, to)));
                docks.Add(new(id, to.Id, enter, false, Along(enter, from)));
            }
            else if (from is not null) docks.Add(new(id, from.Id, Side.Bottom, true, from.X));
            else if (to is not null) docks.Add(new(id, to.Id, Side.Left, false, to.Y));
        }
        // The flows on one side of a plate, in the order of what they lead to.
        var rows = docks.GroupBy(dock => (dock.Plate, dock.Side)).SelectMany(row => row.OrderBy(dock => dock.Towards).ThenBy(dock => dock.Leg.Id, StringComparer.Ordinal).Select((dock, place) => (dock, Share: (place + 1.0) / (row.Count() + 1))))
            .ToDictionary(pair => (pair.dock.Leg, pair.dock.Leaves), pair => (pair.dock.Side, pair.Share));
        return legs.GroupBy(leg => leg.Id.Id).ToDictionary(group => group.Key, IReadOnlyList<FlowLine> (group) => [.. group.Select(leg => Line(rows, leg.Id, leg.From, leg.To))]);
    }

    /// <summary>Where one line of a flow meets a plate.</summary>
    /// <param name="Leg">The flow's id and which of its ends.</param>
    /// <param name="Towards">Where along the side it heads for.</param>
    private sealed record DockPlace((string Id, int Place) Leg, string Plate, Side Side, bool Leaves, double Towards);

    private static FlowLine Line(Dictionary<((string, int), bool), (Side Side, double Share)> docks, (string, int) leg, Compartment? from, Compartment? to)
    {
        var start = from is null ? ((double X, double Y, Side Side)?)null : Dock(docks[(leg, true)], from);
        var end = to is null ? ((double X, double Y, Side Side)?)null : Dock(docks[(leg, false)], to);
        var a = start ?? Open(end!.Value);
        var b = end ?? Open(start!.Value);
        var reach = Math.Max(28, 0.5 * (a.Side is Side.Left or Side.Right ? Math.Abs(b.X - a.X) : Math.Abs(b.Y - a.Y)));
        var (cx1, cy1) = Out(a.X, a.Y, a.Side, reach);
        var (cx2, cy2) = Out(b.X, b.Y, b.Side, reach);
        return new(a.X, a.Y, cx1, cy1, cx2, cy2, b.X, b.Y);
    }

    private static (Side Leave, Side Enter) Facing(Compartment from, Compartment to)
    {
        var (dx, dy) = (to.X - from.X, to.Y - from.Y);
        if (Math.Abs(dx) > Width + 10) return dx > 0 ? (Side.Right, Side.Left) : (Side.Left, Side.Right);
        return dy > 0 ? (Side.Bottom, Side.Top) : (Side.Top, Side.Bottom);
    }

    private static double Along(Side side, Compartment other) => side is Side.Left or Side.Right ? other.Y : other.X;

    /// <summary>Where a flow meets a plate: flows on one side share its length.</summary>
    private static (double X, double Y, Side Side) Dock((Side Side, double Share) place, Compartment plate)
    {
        var (side, share) = place;
        return side switch
        {
            Side.Left => (plate.X, plate.Y + share * Height, Side.Left),
            Side.Right => (plate.X + Width, plate.Y + share * Height, Side.Right),
            Side.Top => (plate.X + share * Width, plate.Y, Side.Top),
            _ => (plate.X + share * Width, plate.Y + Height, Side.Bottom),
        };
    }

    private static (double X, double Y, Side Side) Open((double X, double Y, Side Side) dock)
    {
        var (x, y) = Out(dock.X, dock.Y, dock.Side, OpenLength);
        return (x, y, dock.Side switch { Side.Left => Side.Right, Side.Right => Side.Left, Side.Top => Side.Bottom, _ => Side.Top });
    }

    private static (double X, double Y) Out(double x, double y, Side side, double distance) => side switch
    {
        Side.Left => (x - distance, y),
        Side.Right => (x + distance, y),
        Side.Top => (x, y - distance),
        _ => (x, y + distance),
    };
}
