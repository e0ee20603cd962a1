using System.Collections.Immutable;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Inference;

/// <summary>
/// Draws of the estimated values from what the data leave of them, by sampling importance resampling (Gelman, Carlin, Stern, Dunson,
/// Vehtari
/// and Rubin, Bayesian Data Analysis, 3rd ed., 10.4): proposals from a t law with five degrees of freedom around the best values,
/// weighed by
/// the likelihood and the priors. Values without a prior are taken as spread evenly over the search scale between their bounds, so that
/// where data know values only together, draws go along the ridge and end at the bounds; where a profile is lopsided, so are the draws.
/// Spreads of laws are the most likely ones for each draw.
/// </summary>
internal static class EstimateDraws
{
    private const int Proposals = 1200;

    /// <summary>Draws that are kept.</summary>
    private const int Kept = 300;

    private const int Freedom = 5;

    /// <summary>Fewer proposals than this that count say nothing of a law.</summary>
    private const double LeastEffective = 30;

    private const int MostTries = 400;

    /// <summary>Of more values than this, proposals hardly ever lie where the data are likely.</summary>
    private const int MostValues = 20;

    /// <returns>Rows of values in the model's units; empty where the proposals miss what the data leave.</returns>
    public static ImmutableArray<ImmutableArray<double>> Of(Neighbourhood around, FitSetup setup, int threads, CancellationToken cancel)
    {
        var (search, best) = (around.Search, around.Best);
        if (search.Dimension > MostValues)
            return [];
        double[,] root;
        try
        {
            root = around.Covariance.Cholesky().Factor.ToArray();
        }
        catch (ArgumentException)
        {
            // Not positive definite to rounding.
            return [];
        }
        (double[] U, double Log)[] proposed = [.. Enumerable.Range(0, Proposals).Select(k => Propose(search, setup, best, root, k))];
        var heights = search.Heights([.. proposed.Select(one => one.U)], threads, cancel);
        for (var k = 0; k < Proposals; k++)
            proposed[k].Log = double.IsFinite(heights[k]) ? heights[k] - proposed[k].Log : double.NegativeInfinity;
        var most = proposed.Max(one => one.Log);
        if (double.IsNegativeInfinity(most))
            return [];
        double[] weights = [.. proposed.Select(one => Math.Exp(one.Log - most))];
        var sum = weights.Sum();
        if (sum * sum / weights.Sum(weight => weight * weight) < LeastEffective)
            return [];
        // Evenly spaced through the running sum of the weights: each is taken as often as its share says, to within one.
        var draws = ImmutableArray.CreateBuilder<ImmutableArray<double>>(Kept);
        var (running, place) = (weights[0], 0);
        for (var k = 0; k < Kept; k++)
        {
            while (running < (k + 0.5) / Kept * sum && place + 1 < Proposals)
                running += weights[++place];
            draws.Add([.. proposed[place].U.Select((u, j) => search.ToValue(j, u))]);
        }
        return draws.ToImmutable();
    }

    /// <summary>A proposal within the bounds and the logarithm of the density that it was drawn from, for the search scale; infinite where
    /// none was found.</summary>
    private static (double[] U, double Log) Propose(LikelihoodSearch search, FitSetup setup, SearchPoint best, double[,] root, int number)
    {
        var count = best.U.Length;
        var stream = new RandomStream(1 + setup.Shuffle, number, "estimates", "draws");
        double Standard() => Normal.InvCDF(0, 1, stream.NextUniform() + 1e-17);
        var (u, standard) = (new double[count], new double[count]);
        for (var attempt = 0; attempt < MostTries; attempt++)
        {
            var chi = 0.0;
            for (var degree = 0; degree < Freedom; degree++)
                chi += Math.Pow(Standard(), 2);
            var stretch = Math.Sqrt(Freedom / chi);
            var (inside, square) = (true, 0.0);
            for (var j = 0; j < count; j++)
            {
                standard[j] = stretch * Standard();
                square += standard[j] * standard[j];
            }
            for (var j = 0; j < count && inside; j++)
            {
                u[j] = best.U[j];
                for (var k = 0; k <= j; k++)
                    u[j] += root[j, k] * standard[k];
                inside = u[j] >= search.Lower(j) && u[j] <= search.Upper(j);
            }
            if (!inside)
                continue;
            // A density over the value is one over the search scale times how the value turns with it.
            var turns = Enumerable.Range(0, count).Where(j => setup.Parameters[j].Prior is not null && search.OnLogScale(j)).Sum(j => u[j]);
            return (u, -0.5 * (Freedom + count) * Math.Log(1 + square / Freedom) - turns);
        }
        return (best.U, double.PositiveInfinity);
    }
}
