namespace ClearTide.Core.Ensembles;

/// <summary>How often a number fell into each of bars of equal width.</summary>
/// <param name="Low">Where the first bar begins.</param>
/// <param name="Width">Of each bar; a bar holds what is at least its low end and below its high end, the last one both.</param>
/// <param name="Counts">Bar by bar.</param>
public sealed record Histogram(double Low, double Width, IReadOnlyList<long> Counts)
{
    /// <summary>Bars at most.</summary>
    public const int Most = 24;

    /// <summary>How often a number was within each bar, where all that was counted is in order. Whole numbers have bars of whole width
    /// around them, so that none holds more of them than the next; where they are few, each has a bar of its own.</summary>
    /// <param name="sorted">Values, rising, with how often each was.</param>
    /// <param name="most">How many bars there are at most.</param>
    public static Histogram Of(IReadOnlyList<(double Value, long Times)> sorted, int most = Most)
    {
        if (sorted.Count == 0)
            return new(0, 1, []);
        var (low, high) = (sorted[0].Value, sorted[^1].Value);
        var whole = sorted.All(one => one.Value == Math.Floor(one.Value));
        var width =
            whole ? Math.Ceiling((high - low + 1) / most)
            : high > low ? (high - low) / most
            : 1;
        var start = whole || !(high > low) ? low - 0.5 : low;
        var counts = new long[
            whole ? (int)Math.Floor((high - low) / width) + 1
            : high > low ? most
            : 1
        ];
        foreach (var (value, times) in sorted)
            counts[Math.Clamp((int)((value - start) / width), 0, counts.Length - 1)] += times;
        return new(start, width, counts);
    }
}
