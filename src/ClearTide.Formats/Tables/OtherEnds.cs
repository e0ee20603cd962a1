namespace ClearTide.Formats.Tables;

/// <summary>Both ends of intervals, each in a column of its own.</summary>
internal static class OtherEnds
{
    /// <summary>Times of one day differ by rounding alone, as a share of it.</summary>
    private const double Same = 1e-6;

    /// <summary>The interval between what two cells name, in either order.</summary>
    public static (double Start, double End) Between((double Start, double End) one, (double Start, double End) other) =>
        (Math.Min(one.Start, other.Start), Math.Max(one.End, other.End));

    /// <summary>By how much intervals are longer than their ends say: a day where they begin the day after the one before them ends more
    /// often than on that day, since their last days count then; else nothing.</summary>
    /// <param name="day">A day in the study's unit of time where ends are dates; 0 where they are numbers.</param>
    public static double LastDay(IEnumerable<(double Start, double End)> intervals, double day)
    {
        if (day == 0)
            return 0;
        List<(double Start, double End)> sorted = [.. intervals.OrderBy(one => one.Start)];
        var apart = sorted.Zip(sorted.Skip(1), (one, next) => (next.Start - one.End) / day).ToList();
        return apart.Count(days => Math.Abs(days - 1) <= Same) > apart.Count(days => Math.Abs(days) <= Same) ? day : 0;
    }
}
