namespace ClearTide.Core.Sampling;

/// <summary>Sample quantiles by linear interpolation of the order statistics (Hyndman and Fan, Amer. Statist. 50, 1996, pp. 361–365,
/// definition 7).</summary>
internal static class Quantiles
{
    /// <param name="sorted">Ascending, at least one.</param>
    /// <param name="probability">From 0 to 1.</param>
    public static double Of(ReadOnlySpan<double> sorted, double probability)
    {
        var place = (sorted.Length - 1) * probability;
        var low = (int)Math.Floor(place);
        var high = Math.Min(low + 1, sorted.Length - 1);
        return sorted[low] + (place - low) * (sorted[high] - sorted[low]);
    }

    /// <summary>Several quantiles of an unsorted sample.</summary>
    public static double[] Of(IEnumerable<double> sample, params double[] probabilities)
    {
        var sorted = sample.Order().ToArray();
        return [.. probabilities.Select(probability => Of(sorted, probability))];
    }
}
