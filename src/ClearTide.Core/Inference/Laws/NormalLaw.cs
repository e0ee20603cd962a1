using ClearTide.Core.Data;

namespace ClearTide.Core.Inference.Laws;

/// <summary>Normal around the mean, with the row's own standard deviation where it is given and else one spread for all rows: weighted
/// least squares (Seber and Wild, Nonlinear Regression, 2.1).</summary>
internal sealed class NormalLaw : SpreadLaw
{
    protected override int Unknown(IReadOnlyList<DataRow> rows) => rows.Any(row => row.Error is null) ? 1 : 0;

    protected override double LogSeen(DataRow row, double mean, LawSpread spread)
    {
        var deviation = row.Error ?? spread.Main;
        var residual = (row.Value - mean) / deviation;
        return -0.5 * residual * residual - Math.Log(deviation) - HalfLogTwoPi;
    }

    protected override double SlopeSeen(DataRow row, double mean, LawSpread spread)
    {
        var deviation = row.Error ?? spread.Main;
        return (row.Value - mean) / (deviation * deviation);
    }

    protected override double InformationSeen(DataRow row, double mean, LawSpread spread)
    {
        var deviation = row.Error ?? spread.Main;
        return 1 / (deviation * deviation);
    }

    /// <summary>The root of the mean square of the residuals.</summary>
    protected override LawSpread BestSpreadSeen(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means)
    {
        var (sum, weights, largest) = (0.0, 0.0, 0.0);
        for (var i = 0; i < rows.Count; i++)
        {
            if (rows[i].Error is not null)
                continue;
            sum += rows[i].Weight * (rows[i].Value - means[i]) * (rows[i].Value - means[i]);
            largest = Math.Max(largest, Math.Abs(rows[i].Value));
            weights += rows[i].Weight;
        }
        return weights == 0 ? 1 : Floored(Math.Sqrt(sum / weights), largest);
    }

    /// <summary>The lower tail at the limit (censored regression: Tobin, Econometrica 26, 1958, pp. 24–36).</summary>
    protected override LowerTail Below(DataRow row, double mean, LawSpread spread)
    {
        var deviation = row.Error ?? spread.Main;
        return LowerTail.OfNormal((row.Value - mean) / deviation, -1 / deviation);
    }

    public override double Variance(DataRow row, double mean, LawSpread spread) => (row.Error ?? spread.Main) * (row.Error ?? spread.Main);

    public override string? Refusal(DataRow row) =>
        row.Error is <= 0 ? $"The standard error of the row at {row.End:0.###} is {row.Error:0.###}; it is to be above zero." : null;

    public override double Settle(double mean) => mean;

    /// <summary>ln √(2π).</summary>
    internal static readonly double HalfLogTwoPi = 0.5 * Math.Log(2 * Math.PI);

    /// <summary>A fit without any residual leaves no spread: below a billionth of the largest value it cannot be told from
    /// rounding.</summary>
    internal static double Floored(double spread, double largest) => Math.Max(spread, Math.Max(1e-9 * largest, 1e-300));
}
