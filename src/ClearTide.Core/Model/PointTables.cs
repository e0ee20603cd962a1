using System.Collections.Immutable;
using System.Globalization;
using ClearTide.Core.Expressions;

namespace ClearTide.Core.Model;

/// <summary>What a table of points must be.</summary>
public static class PointTables
{
    /// <summary>Null if these points make a table, else a sentence that says what to do.</summary>
    /// <param name="points">The points, in order of their places.</param>
    public static string? Problem(ImmutableArray<CurvePoint> points)
    {
        if (points.IsEmpty)
            return "A table needs at least one point. Type pairs, as in “0 5, 30 8”.";
        if (points.Length > Input.MostPoints)
            return $"A table has at most {Input.MostPoints:N0} points; this one has {points.Length:N0}. Leave some out.";
        for (var k = 0; k < points.Length; k++)
        {
            if (!double.IsFinite(points[k].X) || !double.IsFinite(points[k].Y))
                return $"Point {k + 1} is not two numbers.";
            if (k == 0)
                continue;
            var (before, here) = (
                points[k - 1].X.ToString(CultureInfo.InvariantCulture),
                points[k].X.ToString(CultureInfo.InvariantCulture)
            );
            if (points[k].X == points[k - 1].X)
                return $"{here} stands twice in the table. Keep one of the two points; for a jump, use steps.";
            if (points[k].X < points[k - 1].X)
                return $"{here} comes after {before}. Put the points in ascending order.";
        }
        return null;
    }
}
