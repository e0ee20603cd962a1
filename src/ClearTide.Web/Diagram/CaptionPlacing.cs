namespace ClearTide.Web.Diagram;

/// <summary>A caption that looks for a place beside its ribbon.</summary>
/// <param name="Fixed">Where the user put it, as its centre; null where the program chooses.</param>
public sealed record CaptionWish(FlowLine Line, double Width, double Height, (double X, double Y)? Fixed);

/// <summary>Where a caption stands.</summary>
/// <param name="Leader">The end of a leader line from the ribbon to the caption, where it was pushed away; null where it stands at its
/// ribbon.</param>
public sealed record CaptionPlace(Box Box, (double FromX, double FromY, double ToX, double ToY)? Leader);

/// <summary>
/// Finds captions places where none covers a plate, a text or another caption: first at a dozen and more places along the ribbon, above and
/// below it, then in growing circles around its middle, with a leader line.
/// </summary>
public static class CaptionPlacing
{
    /// <summary>Half of a ribbon of middling width, with a little air.</summary>
    private const double Clearance = 15;
    private const double Air = 2;
    private const double LeaderFrom = 46;
    private const int RibbonPoints = 14;

    /// <summary>The places, in the order of the wishes.</summary>
    /// <param name="taken">What no caption may cover.</param>
    public static IReadOnlyList<CaptionPlace> Place(IReadOnlyList<CaptionWish> wishes, IEnumerable<Box> taken)
    {
        var grid = new BoxGrid();
        foreach (var box in taken)
            grid.Add(box.Grown(Air));
        foreach (var wish in wishes)
        {
            for (var k = 1; k < RibbonPoints; k++)
            {
                var (x, y) = wish.Line.At(k / (double)RibbonPoints);
                grid.Add(x, y);
            }
        }
        var places = new CaptionPlace[wishes.Count];
        for (var k = 0; k < wishes.Count; k++)
        {
            if (wishes[k].Fixed is not { } at)
                continue;
            var box = Box.Around(at.X, at.Y, wishes[k].Width, wishes[k].Height);
            grid.Add(box.Grown(Air));
            places[k] = new(box, Leader(wishes[k], box));
        }
        // The widest first: they find the fewest places.
        foreach (
            var k in Enumerable
                .Range(0, wishes.Count)
                .Where(k => wishes[k].Fixed is null)
                .OrderByDescending(k => wishes[k].Width)
                .ThenBy(k => k)
        )
        {
            var box = Beside(grid, wishes[k]) ?? Around(grid, wishes[k]);
            grid.Add(box.Grown(Air));
            places[k] = new(box, Leader(wishes[k], box));
        }
        return places;
    }

    private static Box? Beside(BoxGrid grid, CaptionWish wish)
    {
        Box? best = null;
        var (least, rank) = (double.PositiveInfinity, 0);
        foreach (var part in (double[])[0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8])
        {
            var ((x, y), (nx, ny)) = (wish.Line.At(part), wish.Line.Across(part));
            // Above a flat ribbon, or right of a steep one, comes first.
            var side = Math.Abs(nx) > Math.Abs(ny) ? Math.Sign(nx) : -Math.Sign(ny);
            foreach (var away in (double[])[side, -side])
            {
                var distance = away * (Clearance + Math.Abs(nx) * wish.Width / 2 + Math.Abs(ny) * wish.Height / 2);
                var box = Box.Around(x + nx * distance, y + ny * distance, wish.Width, wish.Height);
                rank++;
                if (grid.IsTaken(box))
                    continue;
                var cost = rank + 4 * grid.PointsIn(box);
                if (cost >= least)
                    continue;
                (least, best) = (cost, box);
            }
        }
        return best;
    }

    private static Box Around(BoxGrid grid, CaptionWish wish)
    {
        var (x, y) = wish.Line.At(0.5);
        for (var radius = 40.0; ; radius += 14)
        {
            Box? best = null;
            var least = int.MaxValue;
            for (var turn = 0; turn < 16; turn++)
            {
                var (sine, cosine) = Math.SinCos(turn * Math.PI / 8 - Math.PI / 2);
                var box = Box.Around(x + radius * cosine, y + radius * sine, wish.Width, wish.Height);
                if (grid.IsTaken(box) || grid.PointsIn(box) is var crossed && crossed >= least)
                    continue;
                (least, best) = (grid.PointsIn(box), box);
            }
            if (best is { } found)
                return found;
        }
    }

    private static (double, double, double, double)? Leader(CaptionWish wish, Box box)
    {
        var nearest = Enumerable
            .Range(1, 19)
            .Select(k => wish.Line.At(k / 20.0))
            .Select(point => (Point: point, To: box.Nearest(point.X, point.Y)))
            .MinBy(pair => Distance(pair.Point, pair.To));
        return Distance(nearest.Point, nearest.To) > LeaderFrom ? (nearest.Point.X, nearest.Point.Y, nearest.To.X, nearest.To.Y) : null;
    }

    private static double Distance((double X, double Y) a, (double X, double Y) b) =>
        Math.Sqrt((a.X - b.X) * (a.X - b.X) + (a.Y - b.Y) * (a.Y - b.Y));
}
