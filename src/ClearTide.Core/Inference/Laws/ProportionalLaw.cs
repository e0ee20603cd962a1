using ClearTide.Core.Data;

namespace ClearTide.Core.Inference.Laws;

/// <summary>Normal with a standard deviation in proportion to the mean: the spread is the coefficient of variation. The mean is told by
/// its distance from the value and by the width, so that its information is (1 + 2c²)/(cm)² (Davidian and Giltinan, Nonlinear Models for
/// Repeated Measurement Data, 2.2).</summary>
internal sealed class ProportionalLaw : SpreadLaw
{
    protected override int Unknown(IReadOnlyList<DataRow> rows) => 1;

    protected override double LogSeen(DataRow row, double mean, LawSpread spread)
    {
        var residual = (row.Value - mean) / (spread.Main * mean);
        return -0.5 * residual * residual - Math.Log(spread.Main * mean) - NormalLaw.HalfLogTwoPi;
    }

    protected override double SlopeSeen(DataRow row, double mean, LawSpread spread)
    {
        var residual = (row.Value - mean) / (spread.Main * mean);
        return residual * residual / mean + residual / (spread.Main * mean) - 1 / mean;
    }

    protected override double InformationSeen(DataRow row, double mean, LawSpread spread) =>
        (1 + 2 * spread.Main * spread.Main) / (spread.Main * spread.Main * mean * mean);

    protected override LawSpread BestSpreadSeen(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means)
    {
        var (sum, weights) = (0.0, 0.0);
        for (var i = 0; i < rows.Count; i++)
        {
            sum += rows[i].Weight * Math.Pow((rows[i].Value - means[i]) / means[i], 2);
            weights += rows[i].Weight;
        }
        return NormalLaw.Floored(Math.Sqrt(sum / weights), 1);
    }

    protected override LowerTail Below(DataRow row, double mean, LawSpread spread) =>
        LowerTail.OfNormal((row.Value - mean) / (spread.Main * mean), -row.Value / (spread.Main * mean * mean));

    public override double Variance(DataRow row, double mean, LawSpread spread) => spread.Main * spread.Main * mean * mean;

    public override string? Refusal(DataRow row) => null;
}
