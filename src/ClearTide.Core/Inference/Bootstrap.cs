using System.Collections.Immutable;
using ClearTide.Core.Data;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>What a parametric bootstrap found: data simulated by the fitted model and its laws, each set fitted again.</summary>
/// <param name="Count">How many sets were fitted.</param>
/// <param name="Failed">How many could not be.</param>
/// <param name="Low">For each estimate the value below which 2.5% of the fitted ones lie.</param>
/// <param name="High">Above which as many lie.</param>
/// <param name="Bias">For each estimate by how much the mean of the fitted ones is above it.</param>
public sealed record BootstrapResult(
    int Count,
    int Failed,
    ImmutableArray<double> Low,
    ImmutableArray<double> High,
    ImmutableArray<double> Bias
);

/// <summary>The parametric bootstrap with percentile intervals (Efron and Tibshirani, An Introduction to the Bootstrap, 6.5 and
/// 13.3). Each set is drawn from its number alone, and fitted from the estimates.</summary>
internal static class Bootstrap
{
    /// <summary>The climb of a set ends where a step gains less than this: far below what any interval shows.</summary>
    private const double Near = 1e-4;

    /// <param name="search">The likelihood, with rows and values.</param>
    /// <param name="best">Where the likelihood is greatest.</param>
    /// <param name="sets">How many data sets are drawn and fitted.</param>
    /// <param name="shared">Number of values that are reported, counted from the first.</param>
    /// <param name="threads">How many work at once; results do not depend on it.</param>
    /// <param name="progress">Told the share that is done, from any thread.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <returns>Null where fewer than half of the sets could be fitted.</returns>
    public static BootstrapResult? Of(
        LikelihoodSearch search,
        SearchPoint best,
        int sets,
        int shared,
        int threads,
        Action<double>? progress,
        CancellationToken cancel
    )
    {
        var found = new double[sets][];
        var done = 0;
        Workers.For(sets, threads, cancel, set =>
        {
            try
            {
                var drawn = new LikelihoodSearch(search.Model, search.Setup, Drawn(search, best, set));
                var end = drawn.Climb(best.U, enough: Near, coarse: true, cancel: cancel);
                if (double.IsFinite(end.Height))
                    found[set] = [.. Enumerable.Range(0, shared).Select(j => search.ToValue(j, end.U[j]))];
            }
            catch (SimulationException)
            {
                // A set that cannot be fitted is counted, and told of.
            }
            progress?.Invoke((double)Interlocked.Increment(ref done) / sets);
        });
        var fitted = found.Where(values => values is not null).ToList();
        if (fitted.Count < Math.Max(2, sets / 2))
            return null;
        var ends = Enumerable.Range(0, shared).Select(j => Quantiles.Of(fitted.Select(values => values[j]), 0.025, 0.975)).ToList();
        return new(
            fitted.Count,
            sets - fitted.Count,
            [.. ends.Select(end => end[0])],
            [.. ends.Select(end => end[1])],
            [.. Enumerable.Range(0, shared).Select(j => fitted.Average(values => values[j]) - search.ToValue(j, best.U[j]))]
        );
    }

    /// <summary>The rows of each series as they might have come: by its law around what is expected of them. Of a row below a limit the
    /// limit stays.</summary>
    private static IReadOnlyList<DataRow>[] Drawn(LikelihoodSearch search, SearchPoint best, int set)
    {
        var stream = new RandomStream(1 + search.Setup.Shuffle, set, "bootstrap", "rows");
        var (drawn, at, series) = (new List<IReadOnlyList<DataRow>>(), 0, 0);
        foreach (var (law, rows) in search.Laws)
        {
            var mine = new List<DataRow>(rows.Count);
            foreach (var row in rows)
            {
                var uniform = Math.Max(stream.NextUniform(), 1e-17);
                var value = new Predictive(law, row, best.Mean[at++], 0, best.Spreads[series]).Quantile(uniform);
                mine.Add(row.Below && value < row.Value ? row : row with { Value = value, Below = false });
            }
            drawn.Add(mine);
            series++;
        }
        return [.. drawn];
    }
}
