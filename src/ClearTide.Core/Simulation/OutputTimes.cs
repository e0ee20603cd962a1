namespace ClearTide.Core.Simulation;

/// <summary>The times at which a run is looked at.</summary>
public static class OutputTimes
{
    /// <summary>The most output times of one run.</summary>
    public const int Most = 1_000_000;

    /// <summary>Equally spaced times from start to end; the end is always among them.</summary>
    /// <param name="start">The first time.</param>
    /// <param name="end">The last time, after the first.</param>
    /// <param name="every">The distance between two, above zero.</param>
    public static double[] Every(double start, double end, double every)
    {
        if (!(every > 0))
            throw new ArgumentOutOfRangeException(nameof(every), every, "The spacing of output must be positive.");
        if (!(end > start))
            throw new ArgumentOutOfRangeException(nameof(end), end, "The end must come after the start.");
        var count = (end - start) / every;
        if (count > Most)
            throw new ArgumentOutOfRangeException(nameof(every), every, $"More than {Most:N0} output times are asked for.");
        // A rounding error must not add a sliver at the end.
        var whole = (int)Math.Floor(count + 1e-9);
        var times = new List<double>(whole + 2);
        for (var k = 0; k <= whole; k++)
            times.Add(Math.Min(start + k * every, end));
        if (end - times[^1] > 1e-9 * every)
            times.Add(end);
        else
            times[^1] = end;
        return [.. times];
    }
}
