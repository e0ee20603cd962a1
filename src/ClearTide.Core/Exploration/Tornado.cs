namespace ClearTide.Core.Exploration;

/// <summary>What an outcome becomes when one value alone goes to either end of its range.</summary>
public sealed record TornadoBar(string Address, double Low, double High, double AtLow, double AtHigh)
{
    /// <summary>How far apart the two outcomes are; not a number where a run failed.</summary>
    public double Width => Math.Abs(AtHigh - AtLow);
}

/// <summary>Changes of one value at a time, the widest first.</summary>
public static class Tornado
{
    /// <param name="runs">Runs over all the values at once, in the order of the ranges.</param>
    public static IReadOnlyList<TornadoBar> Of(ValueRuns runs, IReadOnlyList<(string Address, double Low, double High)> ranges, CancellationToken cancel = default)
    {
        var present = runs.Present;
        double At(int k, double value)
        {
            var set = (double[])present.Clone();
            set[k] = value;
            return runs.Run(set, false, cancel).Outcome;
        }
        return [.. ranges.Select((range, k) => new TornadoBar(range.Address, range.Low, range.High, At(k, range.Low), At(k, range.High))).OrderByDescending(bar => double.IsNaN(bar.Width) ? double.PositiveInfinity : bar.Width)];
    }
}
