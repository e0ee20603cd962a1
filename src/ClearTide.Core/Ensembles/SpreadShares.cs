using System.Collections.Concurrent;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Ensembles;

/// <summary>What makes replicates of a projection differ.</summary>
public enum SpreadSource
{
    /// <summary>Which units move when.</summary>
    Chance,

    /// <summary>Uncertainty of the estimates.</summary>
    Fit,

    /// <summary>That each is another subject.</summary>
    Subjects,

    /// <summary>How counts spread around what there is to count.</summary>
    Observation,
}

/// <summary>Which draw of each source a run takes.</summary>
internal readonly record struct DrawnBy(int Chance, int Fit, int Subjects, int Observation)
{
    /// <summary>All of them by one number.</summary>
    public static DrawnBy All(int replicate) => new(replicate, replicate, replicate, replicate);

    public DrawnBy With(SpreadSource source, int replicate) =>
        source switch
        {
            SpreadSource.Chance => this with { Chance = replicate },
            SpreadSource.Fit => this with { Fit = replicate },
            SpreadSource.Subjects => this with { Subjects = replicate },
            _ => this with { Observation = replicate },
        };
}

/// <summary>The share of one source in the variance of what is followed, interval by interval: how much of it would go if the source were
/// known (the first-order index).</summary>
/// <param name="Source">What varies.</param>
/// <param name="Share">Of the variance; not a number where nothing varies.</param>
/// <param name="Error">Its standard error, by leaving out blocks of pairs (Efron and Tibshirani, An Introduction to the Bootstrap, chapter
/// 11).</param>
public sealed record SourceShare(SpreadSource Source, IReadOnlyList<double> Share, IReadOnlyList<double> Error);

/// <summary>
/// How the variance of a projection's baseline comes from its sources: grouped first-order indices by pick and freeze. Two runs
/// take one source by the same draw and all others by draws of their own; their covariance is what that source makes (Sobol, Math. Comput.
/// Simul. 55, 2001, pp. 271–280; in the form of Janon, Klein, Lagnoux, Nodet and Prieur, ESAIM: Probab. Stat. 18, 2014, pp. 342–364, eq.
/// 6). What the shares leave is what sources make together.
/// </summary>
/// <param name="Pairs">Of runs, for each source.</param>
/// <param name="Sources">Those that the projection has, in their order.</param>
public sealed record SpreadShares(int Pairs, IReadOnlyList<SourceShare> Sources)
{
    /// <summary>Pairs where nobody says otherwise.</summary>
    public const int UsualPairs = 500;

    /// <summary>Blocks that are left out one by one.</summary>
    private const int Blocks = 20;

    /// <summary>The sources of a projection.</summary>
    /// <param name="projection">The projection.</param>
    public static IReadOnlyList<SpreadSource> Of(Projection projection) =>
        [
            .. projection.Method != ProjectionChance.None ? [SpreadSource.Chance] : (SpreadSource[])[],
            .. projection.HasSpread ? [SpreadSource.Fit] : (SpreadSource[])[],
            .. projection.HasSubjects ? [SpreadSource.Subjects] : (SpreadSource[])[],
            .. projection.HasError ? [SpreadSource.Observation] : (SpreadSource[])[],
        ];

    /// <param name="projection">Its model, data and sources of spread.</param>
    /// <param name="pairs">Of runs, at least forty.</param>
    /// <param name="threads">How many work at once; the result does not depend on it.</param>
    /// <param name="progress">Told what share is done, from any thread.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <exception cref="SimulationException">A run could not go on.</exception>
    public static SpreadShares Of(
        Projection projection,
        int pairs,
        int threads,
        Action<double>? progress = null,
        CancellationToken cancel = default
    )
    {
        var sources = Of(projection);
        var (first, others) = (new double[pairs][], sources.Select(_ => new double[pairs][]).ToArray());
        var (workers, done) = (new ConcurrentBag<Projection.Worker>(), 0);
        Workers.For(pairs, threads, cancel, pair =>
        {
            var worker = workers.TryTake(out var free) ? free : projection.CreateWorker();
            first[pair] = worker.Run(0, DrawnBy.All(pair), cancel).Observed;
            for (var k = 0; k < sources.Count; k++)
                others[k][pair] = worker.Run(0, DrawnBy.All(pairs * (k + 1) + pair).With(sources[k], pair), cancel).Observed;
            workers.Add(worker);
            progress?.Invoke((double)Interlocked.Increment(ref done) / pairs);
        });
        var intervals = projection.Times.Length - 1;
        return new(
            pairs,
            [
                .. sources.Select(
                    (source, k) =>
                    {
                        var found = Enumerable.Range(0, intervals).Select(at => Index(first, others[k], at)).ToList();
                        return new SourceShare(source, [.. found.Select(one => one.Share)], [.. found.Select(one => one.Error)]);
                    }
                ),
            ]
        );
    }

    private static (double Share, double Error) Index(double[][] first, double[][] second, int at)
    {
        var sums = new (double Count, double Mean, double Square, double Product)[Blocks];
        // Deviations from one value lose no digits where the spread is small.
        var from = first[0][at];
        for (var pair = 0; pair < first.Length; pair++)
        {
            var (a, b) = (first[pair][at] - from, second[pair][at] - from);
            ref var sum = ref sums[pair * Blocks / first.Length];
            sum = (sum.Count + 1, sum.Mean + 0.5 * (a + b), sum.Square + 0.5 * (a * a + b * b), sum.Product + a * b);
        }
        double Share(int without)
        {
            var (count, mean, square, product) = (0.0, 0.0, 0.0, 0.0);
            for (var k = 0; k < Blocks; k++)
            {
                if (k != without)
                    (count, mean, square, product) = (
                        count + sums[k].Count,
                        mean + sums[k].Mean,
                        square + sums[k].Square,
                        product + sums[k].Product
                    );
            }
            var variance = square / count - mean / count * (mean / count);
            return variance > 1e-12 * Math.Max(1, square / count)
                ? (product / count - mean / count * (mean / count)) / variance
                : double.NaN;
        }
        var left = Enumerable.Range(0, Blocks).Select(Share).ToList();
        var middle = left.Average();
        return (Share(-1), Math.Sqrt((Blocks - 1.0) / Blocks * left.Sum(one => (one - middle) * (one - middle))));
    }
}
