using ClearTide.Core.Data;

namespace ClearTide.Core.Inference.Laws;

/// <summary>Normal with a standard deviation in proportion to the mean: the spread is the coefficient of variation. The mean is told by
/// its distance from the value and by the width, so that its information is (1 + 2c²)/(cm)² (Davidian and Giltinan, Nonlinear Models for
/// Repeated Measurement Data, 2.2).</summary>
internal sealed class ProportionalLaw : SpreadLaw
{
    public override bool HasSpread(IReadOnlyList<DataRow> rows) => true;

    protected override double LogSeen(DataRow row, double mean, double spread)
    {
        var residual = (row.Value - mean) / (spread * mean);
        return -0.5 * residual * residual - Math.Log(spread * mean) - NormalLaw.HalfLogTwoPi;
    }

    protected override double SlopeSeen(DataRow row, double mean, double spread)
    {
        var residual = (row.Value - mean) / (spread * mean);
        return residual * residual / mean + residual / (spread * mean) - 1 / mean;
    }

    protected override double InformationSeen(DataRow row, double mean, double spread) =>
        (1 + 2 * spread * spread) / (spread * spread * mean * mean);

    protected override double BestSpreadSeen(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means)
    {
        var sum = 0.0;
        for (var i = 0; i < rows.Count; i++)
            sum += Math.Pow((rows[i].Value - means[i]) / means[i], 2);
        return NormalLaw.Floored(Math.Sqrt(sum / rows.Count), 1);
    }

    protected override LowerTail Below(DataRow row, double mean, double spread) =>
        LowerTail.OfNormal((row.Value - mean) / (spread * mean), -row.Value / (spread * mean * mean));

    public override double Variance(DataRow row, double mean, double spread) => spread * spread * mean * mean;

    public override string? Refusal(DataRow row) => null;
}
