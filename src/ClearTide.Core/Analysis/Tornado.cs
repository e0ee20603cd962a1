using ClearTide.Core.Language;

namespace ClearTide.Core.Analysis;

/// <summary>What an outcome becomes when one value alone goes to either end of its range.</summary>
/// <param name="Address">The value that moves.</param>
/// <param name="Low">Lower end of its range.</param>
/// <param name="High">Upper end of its range.</param>
/// <param name="AtLow">The outcome at the lower end.</param>
/// <param name="AtHigh">The outcome at the upper end.</param>
public sealed record TornadoBar(ValueAddress Address, double Low, double High, double AtLow, double AtHigh)
{
    /// <summary>How far apart the two outcomes are; not a number where a run failed.</summary>
    public double Width => Math.Abs(AtHigh - AtLow);
}

/// <summary>Changes of one value at a time, the widest first.</summary>
public static class Tornado
{
    /// <param name="runs">Runs over all the values at once, in the order of the ranges.</param>
    /// <param name="ranges">Values with the two ends that each is moved to, in the model's units.</param>
    /// <param name="threads">How many work at once; results do not depend on it.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    public static IReadOnlyList<TornadoBar> Of(
        ValueRuns runs,
        IReadOnlyList<(ValueAddress Address, double Low, double High)> ranges,
        int threads = 1,
        CancellationToken cancel = default
    )
    {
        double[] With(int k, double value)
        {
            var set = runs.Present;
            set[k] = value;
            return set;
        }
        var made = runs.All(
            [.. ranges.SelectMany((range, k) => new[] { With(k, range.Low), With(k, range.High) })],
            _ => false,
            threads,
            null,
            cancel
        );
        return
        [
            .. ranges
                .Select((range, k) => new TornadoBar(range.Address, range.Low, range.High, made[2 * k].Outcome, made[2 * k + 1].Outcome))
                .OrderByDescending(bar => double.IsNaN(bar.Width) ? double.PositiveInfinity : bar.Width),
        ];
    }
}
