using ClearTide.Core.Data;

namespace ClearTide.Core.Inference.Laws;

/// <summary>The logarithm is normal around the logarithm of what is expected, which is the median (Johnson, Kotz and Balakrishnan,
/// Continuous Univariate Distributions 1, chapter 14). The spread is the standard deviation of the logarithm.</summary>
internal sealed class LogNormalLaw : SpreadLaw
{
    protected override int Unknown(IReadOnlyList<DataRow> rows) => 1;

    protected override double LogSeen(DataRow row, double mean, LawSpread spread)
    {
        var residual = Math.Log(row.Value / mean) / spread.Main;
        return -0.5 * residual * residual - Math.Log(spread.Main * row.Value) - NormalLaw.HalfLogTwoPi;
    }

    protected override double SlopeSeen(DataRow row, double mean, LawSpread spread) =>
        Math.Log(row.Value / mean) / (spread.Main * spread.Main * mean);

    protected override double InformationSeen(DataRow row, double mean, LawSpread spread) => 1 / (spread.Main * spread.Main * mean * mean);

    protected override LawSpread BestSpreadSeen(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means)
    {
        var (sum, weights) = (0.0, 0.0);
        for (var i = 0; i < rows.Count; i++)
        {
            sum += rows[i].Weight * Math.Pow(Math.Log(rows[i].Value / means[i]), 2);
            weights += rows[i].Weight;
        }
        return NormalLaw.Floored(Math.Sqrt(sum / weights), 1);
    }

    protected override LowerTail Below(DataRow row, double mean, LawSpread spread) =>
        LowerTail.OfNormal(Math.Log(row.Value / mean) / spread.Main, -1 / (spread.Main * mean));

    /// <summary>About a median of m and with the deviation s of the logarithm, m² e^(s²) (e^(s²) − 1).</summary>
    public override double Variance(DataRow row, double mean, LawSpread spread) =>
        mean * mean * Math.Exp(spread.Main * spread.Main) * (Math.Exp(spread.Main * spread.Main) - 1);

    public override bool IsPositive => true;

    public override string? Refusal(DataRow row) =>
        row.Value > 0
            ? null
            : $"A log-normal value is above zero; the row at {row.End:0.###} holds {row.Value:0.###}. Leave it out, or choose another law "
                + "under Data.";
}
