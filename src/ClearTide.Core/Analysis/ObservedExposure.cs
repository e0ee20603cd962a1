using ClearTide.Core.Data;

namespace ClearTide.Core.Analysis;

/// <summary>
/// Exposure from observed levels alone, without a model (non-compartmental analysis; Gabrielsson and Weiner, Pharmacokinetic and
/// Pharmacodynamic Data Analysis, 4th ed., 2.8): areas go in straight lines while levels rise, and as exponentials while they fall.
/// </summary>
/// <param name="Maximum">The highest level.</param>
/// <param name="MaximumTime">When it was seen.</param>
/// <param name="Last">The last level above zero that was measured.</param>
/// <param name="LastTime">When.</param>
/// <param name="AreaToLast">The area from the first row to there.</param>
/// <param name="HalfLife">ln 2 over the slope of the logarithm over the last points; not a number where these do not fall.</param>
/// <param name="AreaToInfinity">The area with what is left after the last level, its ratio to that slope, added.</param>
/// <param name="Points">How many points the half-life is of; 0 where there is none.</param>
/// <param name="Fit">The share of the variance of their logarithms that the line explains.</param>
public sealed record ObservedExposure(
    double Maximum,
    double MaximumTime,
    double Last,
    double LastTime,
    double AreaToLast,
    double HalfLife,
    double AreaToInfinity,
    int Points,
    double Fit
)
{
    /// <summary>Points of the last stretch where nobody says otherwise, and at least.</summary>
    public const int UsualPoints = 3;

    /// <param name="rows">Of one subject, those that stand at a time; in any order. What is below a limit counts as nothing before the
    /// first level that was measured, and is left out behind it.</param>
    /// <param name="points">How many of the last points the half-life is of: at least 3, all of them behind the maximum.</param>
    /// <param name="from">Rows before this time are left out: to look at what came after one dose.</param>
    /// <param name="until">Rows after this time are left out.</param>
    /// <returns>Null where fewer than two levels were measured.</returns>
    public static ObservedExposure? Of(
        IEnumerable<DataRow> rows,
        int points = UsualPoints,
        double from = double.NegativeInfinity,
        double until = double.PositiveInfinity
    )
    {
        var used = new List<(double Time, double Level)>();
        foreach (var row in rows.Where(row => !row.LeftOut && row.End >= from && row.End <= until).OrderBy(row => row.End))
        {
            if (!row.Below)
                used.Add((row.End, row.Value));
            else if (used.All(one => one.Level == 0))
                used.Add((row.End, 0));
        }
        var measured = used.Where(one => one.Level > 0).ToList();
        if (measured.Count < 2)
            return null;
        var top = measured.MaxBy(one => one.Level);
        var last = measured[^1];
        var area = 0.0;
        for (var k = 1; k < used.Count && used[k].Time <= last.Time; k++)
            area += Between(used[k - 1], used[k]);
        var tail = measured.Where(one => one.Time > top.Time).TakeLast(Math.Max(points, UsualPoints)).ToList();
        var (slope, fit) = tail.Count >= UsualPoints ? Line(tail) : (double.NaN, double.NaN);
        var halfLife = slope < 0 ? Math.Log(2) / -slope : double.NaN;
        return new(
            top.Level,
            top.Time,
            last.Level,
            last.Time,
            area,
            halfLife,
            area + last.Level * halfLife / Math.Log(2),
            double.IsNaN(halfLife) ? 0 : tail.Count,
            double.IsNaN(halfLife) ? double.NaN : fit
        );
    }

    /// <summary>The area between two rows: a trapezium where the level rises, else that of the exponential through both.</summary>
    private static double Between((double Time, double Level) a, (double Time, double Level) b)
    {
        var length = b.Time - a.Time;
        return b.Level >= a.Level || b.Level <= 0
            ? length * (a.Level + b.Level) / 2
            : length * (a.Level - b.Level) / Math.Log(a.Level / b.Level);
    }

    /// <summary>The slope of the logarithms over time by least squares, and the share of their variance that it explains.</summary>
    private static (double Slope, double Fit) Line(List<(double Time, double Level)> points)
    {
        var (t, y) = (points.Average(one => one.Time), points.Average(one => Math.Log(one.Level)));
        double tt = 0,
            ty = 0,
            yy = 0;
        foreach (var (time, level) in points)
        {
            var (dt, dy) = (time - t, Math.Log(level) - y);
            tt += dt * dt;
            ty += dt * dy;
            yy += dy * dy;
        }
        return (ty / tt, yy > 0 ? ty * ty / (tt * yy) : 1);
    }
}
