using ClearTide.Core.Data;
using ClearTide.Core.Inference.Laws;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Inference;

/// <summary>
/// The law of what may be seen in a row when its expectation itself is known to within a standard error: laws around expectations at the
/// nodes of Gauss and Hermite, weighed (Abramowitz and Stegun, Handbook of Mathematical Functions, 25.4.46). An expectation above zero is
/// uncertain by a factor, so that it stays so.
/// </summary>
internal sealed class Predictive
{
    /// <summary>Nodes for a normal weight of variance one, and their weights.</summary>
    private static readonly (double Node, double Weight)[] Nodes =
    [
        (-2.8569700138728056, 0.011257411327720689),
        (-1.3556261799742659, 0.22207592200561265),
        (0, 0.53333333333333333),
        (1.3556261799742659, 0.22207592200561265),
        (2.8569700138728056, 0.011257411327720689),
    ];

    private readonly SpreadLaw _law;
    private readonly DataRow _row;
    private readonly LawSpread _spread;
    private readonly (double Mean, double Weight)[] _means;

    /// <summary>The step between values that can be seen; 0 where any can.</summary>
    private readonly double _step;

    /// <param name="law">Of the series.</param>
    /// <param name="row">Gives its standard error, where it has one; its value is not looked at.</param>
    /// <param name="mean">What is expected.</param>
    /// <param name="error">The standard error of that.</param>
    /// <param name="spread">The law's own.</param>
    public Predictive(SpreadLaw law, DataRow row, double mean, double error, LawSpread spread)
    {
        (_law, _row, _spread) = (law, row with { Below = false }, spread);
        _step = law.Step(row);
        mean = law.Settle(mean);
        // Beyond a factor of e⁴ nothing is known of it, and the tails of the nodes would run out of numbers.
        var byFactor = Math.Min(error / mean, 4);
        _means =
            error > 0
                ?
                [
                    .. Nodes.Select(one =>
                        (law.Settle(mean > 0 ? mean * Math.Exp(byFactor * one.Node) : mean + error * one.Node), one.Weight)
                    ),
                ]
                : [(mean, 1)];
        (Mean, Deviation) = (mean, Math.Sqrt(error * error + law.Variance(_row, mean, spread)));
    }

    public double Mean { get; }

    /// <summary>Of the law and of the expectation together.</summary>
    public double Deviation { get; }

    /// <summary>The natural logarithm of the density, or of the probability of a count.</summary>
    public double Log(double value)
    {
        if (_means is [var one])
            return _law.Log(_row with { Value = value }, one.Mean, _spread);
        var logs = _means.Select(each => Math.Log(each.Weight) + _law.Log(_row with { Value = value }, each.Mean, _spread)).ToArray();
        var most = logs.Max();
        return double.IsNegativeInfinity(most) ? most : most + Math.Log(logs.Sum(log => Math.Exp(log - most)));
    }

    /// <summary>The value below which this share of what may be seen lies; of counts the least that has at least this share at or below
    /// it, and of counts out of a number their share.</summary>
    public double Quantile(double share)
    {
        if (_step == 0)
            return Between(share);
        return IsLarge ? Rounded(share) : Quantiles([share])[0];
    }

    /// <summary>Whether the mean is so large that single counts no longer matter.</summary>
    private bool IsLarge => Mean > MostSummed * _step;

    /// <summary>By the normal law, to the next value that can be seen.</summary>
    private double Rounded(double share) => Math.Clamp(_step * Math.Round(Normal.InvCDF(Mean, Deviation, share) / _step), 0, _law.Most);

    /// <summary>Several quantiles at once, in rising order: counts are summed up but once.</summary>
    public double[] Quantiles(IReadOnlyList<double> shares)
    {
        if (_step == 0 || IsLarge)
            return [.. shares.Select(Quantile)];
        var found = new double[shares.Count];
        var (sum, next) = (0.0, 0);
        // Below twelve deviations there is nothing that a sum could hold.
        var first = (int)Math.Max(0, Math.Floor((Mean - 12 * Deviation) / _step));
        for (var count = first; count < 20 * MostSummed && count * _step <= _law.Most + 1e-9 && next < found.Length; count++)
        {
            sum += Math.Exp(Log(count * _step));
            for (; next < found.Length && sum >= shares[next] - 1e-12; next++)
                found[next] = count * _step;
        }
        for (; next < found.Length; next++)
            found[next] = Rounded(shares[next]);
        return found;
    }

    /// <summary>Counts that are expected to be more than this many are taken as normal: their skewness is below a thirtieth then.</summary>
    private const int MostSummed = 1000;

    private double Between(double share)
    {
        double Below(double value) =>
            _means.Sum(one => one.Weight * Math.Exp(_law.Log(_row with { Value = value, Below = true }, one.Mean, _spread)));
        // Some means lie far out on their own: the stretch is widened until it holds the quantile.
        double reach = 4 * Deviation,
            low = Mean - reach,
            high = Mean + reach;
        if (_law.IsPositive)
            low = Math.Max(low, 0);
        while (Below(high) < share && reach < 1e300)
            high = Mean + (reach *= 2);
        reach = 4 * Deviation;
        while (low < Mean && !(_law.IsPositive && low == 0) && Below(low) > share && reach < 1e300)
            low = _law.IsPositive ? Math.Max(0, Mean - (reach *= 2)) : Mean - (reach *= 2);
        for (var halving = 0; halving < 60; halving++)
        {
            var middle = 0.5 * (low + high);
            if (Below(middle) < share)
                low = middle;
            else
                high = middle;
        }
        return 0.5 * (low + high);
    }
}
