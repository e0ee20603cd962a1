using ClearTide.Core.Data;

namespace ClearTide.Core.Inference.Laws;

/// <summary>The logarithm is normal around the logarithm of what is expected, which is the median (Johnson, Kotz and Balakrishnan,
/// Continuous Univariate Distributions 1, chapter 14). The spread is the standard deviation of the logarithm.</summary>
internal sealed class LogNormalLaw : SpreadLaw
{
    public override bool HasSpread(IReadOnlyList<DataRow> rows) => true;

    protected override double LogSeen(DataRow row, double mean, double spread)
    {
        var residual = Math.Log(row.Value / mean) / spread;
        return -0.5 * residual * residual - Math.Log(spread * row.Value) - NormalLaw.HalfLogTwoPi;
    }

    protected override double SlopeSeen(DataRow row, double mean, double spread) => Math.Log(row.Value / mean) / (spread * spread * mean);

    protected override double InformationSeen(DataRow row, double mean, double spread) => 1 / (spread * spread * mean * mean);

    protected override double BestSpreadSeen(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means)
    {
        var sum = 0.0;
        for (var i = 0; i < rows.Count; i++)
            sum += Math.Pow(Math.Log(rows[i].Value / means[i]), 2);
        return NormalLaw.Floored(Math.Sqrt(sum / rows.Count), 1);
    }

    protected override LowerTail Below(DataRow row, double mean, double spread) =>
        LowerTail.OfNormal(Math.Log(row.Value / mean) / spread, -1 / (spread * mean));

    /// <summary>About a median of m and with the deviation s of the logarithm, m² e^(s²) (e^(s²) − 1).</summary>
    public override double Variance(DataRow row, double mean, double spread) =>
        mean * mean * Math.Exp(spread * spread) * (Math.Exp(spread * spread) - 1);

    public override bool IsPositive => true;

    public override string? Refusal(DataRow row) =>
        row.Value > 0
            ? null
            : $"A log-normal value is above zero; the row at {row.End:0.###} holds {row.Value:0.###}. Leave it out, or choose another law "
                + "under Data.";
}
