namespace ClearTide.Formats.Tables;

/// <summary>Both ends of intervals, each in a column of its own.</summary>
/// <param name="day">A day in the study's unit of time where ends are dates; 0 where they are numbers.</param>
internal sealed class OtherEnds(double day)
{
    private int _meeting,
        _dayApart;
    private double _before = double.NaN;

    /// <summary>The interval between two cells; the time of one row after the other tells whether last days count.</summary>
    /// <param name="one">What the time of the row names.</param>
    /// <param name="other">What the cell of the other end names.</param>
    public (double Start, double End) Between((double Start, double End) one, (double Start, double End) other)
    {
        var (start, end) = (Math.Min(one.Start, other.Start), Math.Max(one.End, other.End));
        if (Math.Abs(start - _before) <= Same * day)
            _meeting++;
        else if (Math.Abs(start - _before - day) <= Same * day)
            _dayApart++;
        _before = end;
        return (start, end);
    }

    /// <summary>Times of one day differ by rounding alone.</summary>
    private const double Same = 1e-6;

    /// <summary>What is added to each end: a day where each interval begins the day after the one before it ends, since its last day counts
    /// then.</summary>
    public double Longer => _dayApart > _meeting ? day : 0;
}
