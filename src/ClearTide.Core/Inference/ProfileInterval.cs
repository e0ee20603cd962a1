using ClearTide.Core.Simulation;
using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Inference;

/// <summary>One side of a profile.</summary>
/// <param name="End">Where the interval ends, on the search scale; null where it does not before the bound.</param>
/// <param name="Points">Places and how far the best log-likelihood has fallen there, in no order.</param>
internal sealed record ProfileSide(double? End, IReadOnlyList<(double U, double Fall)> Points);

/// <summary>
/// A 95% interval by profile likelihood: the value is held away from its estimate, all others are fitted again, and the end lies
/// where the log-likelihood has fallen by half the 95% quantile of chi-squared with one degree of freedom
/// (Venzon and Moolgavkar, Appl. Statist. 37, 1988, pp. 87–94). Where there are priors, they count with the likelihood.
/// </summary>
internal sealed class ProfileInterval(LikelihoodSearch search, SearchPoint best, CancellationToken cancel)
{
    /// <summary>Half of 3.841459, the 95% quantile of chi-squared with one degree of freedom.</summary>
    public const double Fall = 1.920729;

    private readonly Lazy<double> _roughly = new(() => search.Evaluate(best.U, null, cancel, coarse: true).Height);

    /// <summary>How the other values move with one, close to the best ones; null where the information has no inverse.</summary>
    private readonly Lazy<Matrix<double>?> _slopes = new(() => Covariances.Of(best.Information));

    /// <summary>The root of the fall is almost straight along a profile, so that a few secants find its end.</summary>
    private static readonly double RootFall = Math.Sqrt(Fall);

    /// <summary>Shares of the way to the end, and past it, at which a profile is drawn.</summary>
    private static readonly double[] Drawn = [0.25, 0.5, 0.75, 1.3];

    /// <summary>How far the best log-likelihood falls when value <paramref name="j"/> is held at <paramref name="u"/>.</summary>
    /// <param name="j">Place of the value in the setup.</param>
    /// <param name="u">What it is held at, on the search scale.</param>
    /// <param name="start">Where the search of the others begins.</param>
    /// <param name="roughly">Whether it is for a picture alone.</param>
    public (double Fall, double[] U) At(int j, double u, double[] start, bool roughly = false)
    {
        var held = new bool[best.U.Length];
        held[j] = true;
        var from = (double[])start.Clone();
        from[j] = u;
        try
        {
            // A millionth of the fall is more than an end of an interval can tell.
            var point = search.Climb(from, held, roughly ? 1e-3 : 1e-6, roughly, cancel);
            return ((roughly ? _roughly.Value : best.Height) - point.Height, point.U);
        }
        catch (SimulationException)
        {
            // Where the model cannot be run, nothing could have been seen.
            return (double.PositiveInfinity, start);
        }
    }

    /// <summary>One side (direction -1 or 1) of the profile of value <paramref name="j"/>.</summary>
    public ProfileSide Side(int j, int direction, double standardError)
    {
        var bound = direction < 0 ? search.Lower(j) : search.Upper(j);
        List<(double U, double Fall, double[] At)> points = [(best.U[j], 0, best.U)];
        double Visit(double u, bool roughly = false)
        {
            var (fall, at) = At(j, u, Guess(j, u, points), roughly);
            points.Add((u, fall, at));
            return Math.Sqrt(Math.Max(0, fall)) - RootFall;
        }
        var (inside, low) = (best.U[j], -RootFall);
        var stride = double.IsFinite(standardError) && standardError > 0 ? Math.Min(1.96 * standardError, 2) : 0.5;
        double? end = null;
        while (inside != bound)
        {
            var outside = inside + direction * stride;
            if (direction < 0 ? outside <= bound : outside >= bound)
                outside = bound;
            var high = Visit(outside);
            if (high >= 0)
            {
                end = Between(inside, low, outside, high, u => Visit(u));
                break;
            }
            (inside, low, stride) = (outside, high, stride * 1.5);
        }
        foreach (var share in Drawn)
        {
            var u = best.U[j] + share * ((end ?? bound) - best.U[j]);
            if ((direction < 0 ? u >= bound : u <= bound) && points.All(point => point.U != u))
                Visit(u, roughly: true);
        }
        return new(end, [.. points.Where(point => double.IsFinite(point.Fall)).Select(point => (point.U, point.Fall))]);
    }

    /// <summary>Where the other values likely are: on the line through the two nearest places that are known.</summary>
    private double[] Guess(int j, double u, List<(double U, double Fall, double[] At)> points)
    {
        var near = points.Where(point => double.IsFinite(point.Fall)).OrderBy(point => Math.Abs(point.U - u)).Take(2).ToList();
        var guess = (double[])near[0].At.Clone();
        if (near.Count == 2)
        {
            // Not further out than the two are apart: a profile bends.
            var share = Math.Clamp((u - near[0].U) / (near[1].U - near[0].U), -1, 1);
            for (var k = 0; k < guess.Length; k++)
                guess[k] = Math.Clamp(guess[k] + share * (near[1].At[k] - near[0].At[k]), search.Lower(k), search.Upper(k));
        }
        else if (_slopes.Value is { } covariance && covariance[j, j] > 0)
        {
            for (var k = 0; k < guess.Length; k++)
                guess[k] = Math.Clamp(guess[k] + covariance[k, j] / covariance[j, j] * (u - near[0].U), search.Lower(k), search.Upper(k));
        }
        return guess;
    }

    /// <summary>Points of the profile of value <paramref name="j"/> that lie within the 95% fall, over the whole of its bounds.</summary>
    public IEnumerable<double[]> Ridge(int j)
    {
        const int points = 9;
        for (var k = 0; k < points; k++)
        {
            var u = search.Lower(j) + (search.Upper(j) - search.Lower(j)) * k / (points - 1);
            var (fall, at) = At(j, u, best.U);
            if (fall < Fall)
                yield return at;
        }
    }

    /// <summary>Where the profile crosses the fall, by false position in the Illinois form (Dowell and Jarratt, BIT 11, 1971, pp.
    /// 168–174), to some ten-thousandths of the fall.</summary>
    private static double Between(double inside, double low, double outside, double high, Func<double, double> visit)
    {
        // The end that stayed twice running loses half of its height, so that the other one moves too.
        var stayed = 0;
        for (var round = 0; round < 40; round++)
        {
            var middle = double.IsFinite(high) ? inside - low * (outside - inside) / (high - low) : 0.5 * (inside + outside);
            if (middle == inside || middle == outside)
                return middle;
            var here = visit(middle);
            if (Math.Abs(here) < 1e-4)
                return middle;
            if (here < 0)
                (inside, low, high, stayed) = (middle, here, stayed > 0 ? high / 2 : high, 1);
            else
                (outside, high, low, stayed) = (middle, here, stayed < 0 ? low / 2 : low, -1);
        }
        return 0.5 * (inside + outside);
    }
}
