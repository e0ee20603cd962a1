using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Inference;

/// <summary>Works out what is reported beside the best values, once these are known.</summary>
internal static class FitDetails
{
    /// <summary>Rows of which the law of what may be seen is worked out; of more, the normal law of the same spread.</summary>
    private const int MostRows = 600;

    /// <param name="document">The study that was fitted.</param>
    /// <param name="lowered">The model, lowered.</param>
    /// <param name="search">The likelihood, with rows and values.</param>
    /// <param name="best">Where the likelihood is greatest.</param>
    /// <param name="shared">How many values all subjects share; they come first.</param>
    /// <param name="sides">The profiles, two sides for each value that has one.</param>
    /// <param name="threads">How many work at once; results do not depend on it.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    public static FitDetail Of(
        StudyDocument document,
        LoweredModel lowered,
        LikelihoodSearch search,
        SearchPoint best,
        int shared,
        ProfileSide[] sides,
        int threads,
        CancellationToken cancel
    )
    {
        var around = new Neighbourhood(search, best, cancel);
        var fitted = Fitted(around);
        var used = search.Laws.SelectMany(one => one.Rows).ToList();
        var draws = EstimateDraws.Of(around, search.Setup, threads, cancel);
        if (shared < search.Dimension)
            draws = [.. draws.Select(draw => draw[..shared])];
        return new(
            best.LogPrior,
            search.Dimension + search.Spreads,
            used.Count,
            ObservedErrors(search, best, threads, cancel)[..shared],
            [.. Enumerable.Range(0, shared).Select(j => Profile(search, best, sides, j))],
            fitted,
            ResidualPatterns.Of(document, search, best, fitted),
            NextSamples.Of(document, lowered, around, cancel),
            ForecastScores.Of(lowered, search, best, cancel)
        )
        {
            Draws = draws,
            Derived = DerivedQuantities.Of(lowered.Network, [.. search.Model.Chosen.Take(shared)], around.Values, draws),
        };
    }

    private static ImmutableArray<ProfilePoint> Profile(LikelihoodSearch search, SearchPoint best, ProfileSide[] sides, int j) =>
        [
            .. sides[2 * j]
                .Points.Concat(sides[2 * j + 1].Points)
                .Append((U: best.U[j], Fall: 0.0))
                .DistinctBy(point => point.U)
                .OrderBy(point => point.U)
                .Select(point => new ProfilePoint(search.ToValue(j, point.U), Math.Max(0, point.Fall))),
        ];

    private static ImmutableArray<RowFit> Fitted(Neighbourhood around)
    {
        var rows = ImmutableArray.CreateBuilder<RowFit>();
        var at = 0;
        var many = around.Search.Laws.Sum(one => one.Rows.Count) > MostRows;
        foreach (var ((law, data), spread) in around.Search.Laws.Zip(around.Best.Spreads))
        {
            foreach (var row in data)
            {
                var mean = law.Settle(around.Prediction.Mean[at]);
                var error = around.ErrorOfMean(at++);
                // What is above zero is uncertain by a factor.
                var (low, high) =
                    mean > 0 && law.Settle(0) > 0
                        ? (
                            mean * Math.Exp(-Neighbourhood.Quantile975 * error / mean),
                            mean * Math.Exp(Neighbourhood.Quantile975 * error / mean)
                        )
                        : (mean - Neighbourhood.Quantile975 * error, mean + Neighbourhood.Quantile975 * error);
                var deviation = Math.Sqrt(law.Variance(row, mean, spread));
                var predictive = new Predictive(law, row, mean, error, spread);
                var seen = many
                    ? [mean - Neighbourhood.Quantile975 * predictive.Deviation, mean + Neighbourhood.Quantile975 * predictive.Deviation]
                    : predictive.Quantiles([0.025, 0.975]);
                rows.Add(new(low, high, seen[0], seen[1], row.Below ? double.NaN : (row.Value - mean) / deviation));
            }
        }
        return rows.ToImmutable();
    }

    /// <summary>Standard errors by the curvature of the log-likelihood itself, from central differences of its gradient (Efron and
    /// Hinkley, Biometrika 65, 1978, pp. 457–482, for why it may be preferred).</summary>
    private static ImmutableArray<double?> ObservedErrors(LikelihoodSearch search, SearchPoint best, int threads, CancellationToken cancel)
    {
        var count = search.Dimension;
        var none = Enumerable.Repeat((double?)null, count).ToImmutableArray();
        var curvature = Matrix<double>.Build.Dense(count, count);
        var failed = false;
        Workers.For(count, threads, cancel, j =>
        {
            var scale = best.Information[j, j] > 0 ? Math.Min(1, 1 / Math.Sqrt(best.Information[j, j])) : 1;
            var step = 1e-3 * scale;
            try
            {
                var (above, below) = ((double[])best.U.Clone(), (double[])best.U.Clone());
                above[j] += step;
                below[j] -= step;
                var difference = search.Evaluate(above, null, cancel).Gradient - search.Evaluate(below, null, cancel).Gradient;
                for (var k = 0; k < count; k++)
                    curvature[j, k] = -difference[k] / (2 * step);
            }
            catch (SimulationException)
            {
                failed = true;
            }
        });
        if (failed || !curvature.Enumerate().All(double.IsFinite))
            return none;
        var covariance = Covariances.Of(0.5 * (curvature + curvature.Transpose()));
        if (covariance is null || covariance.Diagonal().Any(variance => !(variance > 0)))
            return none;
        return
        [
            .. Enumerable
                .Range(0, count)
                .Select(j => (double?)(Math.Sqrt(covariance[j, j]) * (search.OnLogScale(j) ? search.ToValue(j, best.U[j]) : 1))),
        ];
    }
}
