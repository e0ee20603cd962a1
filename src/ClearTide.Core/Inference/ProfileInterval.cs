using ClearTide.Core.Expressions;
using ClearTide.Core.Language;

namespace ClearTide.Core.Inference;

/// <summary>
/// Ends of a 95% interval by profile likelihood: the value is held away from its estimate, all others are fitted again, and the end lies
/// where the log-likelihood has fallen by half the 95% quantile of chi-squared with one degree of freedom
/// (Venzon and Moolgavkar, Appl. Statist. 37, 1988, pp. 87–94).
/// </summary>
internal sealed class ProfileInterval(LikelihoodSearch search, SearchPoint best, CancellationToken cancel)
{
    /// <summary>Half of 3.841459, the 95% quantile of chi-squared with one degree of freedom.</summary>
    public const double Fall = 1.920729;

    /// <summary>How far the best log-likelihood falls when value <paramref name="j"/> is held at <paramref name="u"/>.</summary>
    public (double Fall, double[] U) At(int j, double u, double[] start)
    {
        var held = new bool[best.U.Length];
        held[j] = true;
        var from = (double[])start.Clone();
        from[j] = u;
        var point = search.Climb(from, held, cancel);
        return (best.LogLikelihood - point.LogLikelihood, point.U);
    }

    /// <summary>The end on one side (direction -1 or 1) on the search scale, or null where it is not reached before the bound.</summary>
    public double? End(int j, int direction, double standardError)
    {
        var bound = direction < 0 ? search.Lower(j) : search.Upper(j);
        var inside = best.U[j];
        var start = best.U;
        var stride = double.IsFinite(standardError) && standardError > 0 ? Math.Min(1.96 * standardError, 2) : 0.5;
        while (true)
        {
            var outside = inside + direction * stride;
            var last = direction < 0 ? outside <= bound : outside >= bound;
            if (last)
                outside = bound;
            if (outside == inside)
                return null;
            var (fall, at) = At(j, outside, start);
            if (fall >= Fall)
                return Between(j, inside, outside, at);
            if (last)
                return null;
            (inside, start, stride) = (outside, at, stride * 1.5);
        }
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

    private double Between(int j, double inside, double outside, double[] start)
    {
        // Twelve halvings of a stride of about two standard errors leave less than a thousandth of one.
        for (var halving = 0; halving < 12; halving++)
        {
            var middle = 0.5 * (inside + outside);
            var (fall, at) = At(j, middle, start);
            start = at;
            if (fall >= Fall)
                outside = middle;
            else
                inside = middle;
        }
        return 0.5 * (inside + outside);
    }
}
