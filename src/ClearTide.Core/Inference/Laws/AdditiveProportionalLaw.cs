using ClearTide.Core.Data;

namespace ClearTide.Core.Inference.Laws;

/// <summary>Normal with the variance a² + (cm)² around the mean m: one part that is the same everywhere, as a device has, and one in
/// proportion (Davidian and Giltinan, Nonlinear Models for Repeated Measurement Data, 2.2). A row's own error takes the place of
/// a.</summary>
internal sealed class AdditiveProportionalLaw : SpreadLaw
{
    /// <summary>The additive part in means at which both are alike, relative to the largest mean: beyond these the other part cannot be
    /// told from none.</summary>
    private const double LeastRatio = 1e-6;

    private const double MostRatio = 1e4;

    /// <summary>Ratios that are tried before the best of them is refined: the likelihood over the ratio may have two peaks.</summary>
    private const int Tried = 24;

    protected override int Unknown(IReadOnlyList<DataRow> rows) => rows.Any(row => row.Error is null) ? 2 : 1;

    protected override double LogSeen(DataRow row, double mean, LawSpread spread)
    {
        var variance = Variance(row, mean, spread);
        var residual = row.Value - mean;
        return -0.5 * (residual * residual / variance + Math.Log(variance)) - NormalLaw.HalfLogTwoPi;
    }

    protected override double SlopeSeen(DataRow row, double mean, LawSpread spread)
    {
        var (variance, residual) = (Variance(row, mean, spread), row.Value - mean);
        return residual / variance + spread.Main * spread.Main * mean / variance * (residual * residual / variance - 1);
    }

    protected override double InformationSeen(DataRow row, double mean, LawSpread spread)
    {
        var variance = Variance(row, mean, spread);
        var turn = spread.Main * spread.Main * mean / variance;
        return 1 / variance + 2 * turn * turn;
    }

    protected override LowerTail Below(DataRow row, double mean, LawSpread spread)
    {
        var (variance, residual) = (Variance(row, mean, spread), row.Value - mean);
        var deviation = Math.Sqrt(variance);
        return LowerTail.OfNormal(residual / deviation, -(1 + residual * spread.Main * spread.Main * mean / variance) / deviation);
    }

    public override double Variance(DataRow row, double mean, LawSpread spread)
    {
        var (added, relative) = (row.Error ?? spread.Added, spread.Main * mean);
        return Math.Max(added * added + relative * relative, 1e-300);
    }

    /// <summary>For a given ratio r = a/c of both parts, c² is the mean of squared residuals over r² + m²: what is left to be looked for
    /// is the ratio alone.</summary>
    protected override LawSpread BestSpreadSeen(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means)
    {
        var at = means.ToArray();
        if (rows.Any(row => row.Error is not null))
            return Best(rows, at, ratio => MostLikely(c => Sum(rows, at, new(c, ratio * c)), 1e-6, 1e3));
        return Best(rows, at, ratio =>
        {
            var (sum, weights) = (0.0, 0.0);
            for (var i = 0; i < rows.Count; i++)
            {
                sum += rows[i].Weight * Math.Pow(rows[i].Value - at[i], 2) / (ratio * ratio + at[i] * at[i]);
                weights += rows[i].Weight;
            }
            // A fit without any residual leaves no spread: it cannot be told from rounding.
            return Math.Max(Math.Sqrt(sum / weights), 1e-9);
        });
    }

    protected override LawSpread BestSpreadBelow(IReadOnlyList<DataRow> rows, double[] means, LawSpread first) =>
        Best(rows, means, ratio => MostLikely(c => Sum(rows, means, new(c, ratio * c)), 1e-6, 1e3));

    /// <param name="rows">The rows of data.</param>
    /// <param name="means">What is expected of each row.</param>
    /// <param name="relativeAt">The most likely c at a ratio.</param>
    private LawSpread Best(IReadOnlyList<DataRow> rows, double[] means, Func<double, double> relativeAt)
    {
        var largest = Math.Max(means.Max(Math.Abs), 1e-300);
        LawSpread At(double ratio)
        {
            var c = relativeAt(ratio);
            return new(c, ratio * c);
        }
        double Height(double ratio) => Sum(rows, means, At(ratio));
        var step = Math.Pow(MostRatio / LeastRatio, 1.0 / (Tried - 1));
        var best = Enumerable.Range(0, Tried).Select(k => LeastRatio * largest * Math.Pow(step, k)).MaxBy(Height);
        return At(MostLikely(Height, best / step, best * step));
    }

    public override string? Refusal(DataRow row) =>
        row.Error is < 0 ? $"The standard error of the row at {row.End:0.###} is {row.Error:0.###}; it is to be zero or above." : null;

    public override double Settle(double mean) => mean;
}
