namespace ClearTide.Core.Ensembles;

/// <summary>What a curve does within a stretch of time: what a body was exposed to between two doses.</summary>
/// <param name="Maximum">The highest value.</param>
/// <param name="MaximumTime">When, counted from where the stretch begins.</param>
/// <param name="Minimum">The lowest value.</param>
/// <param name="Trough">The value where the stretch ends, before what happens there.</param>
/// <param name="Area">The area under it.</param>
/// <param name="Length">How long the stretch is.</param>
/// <param name="Inside">How long it was within the target.</param>
public readonly record struct Exposure(
    double Maximum,
    double MaximumTime,
    double Minimum,
    double Trough,
    double Area,
    double Length,
    double Inside
)
{
    /// <summary>The area under it within the first interval between doses; not a number where there is none.</summary>
    public double FirstArea { get; init; } = double.NaN;

    /// <summary>How much more there is in this stretch than after the first dose: the ratio of the areas, the accumulation index (Rowland
    /// and Tozer, Clinical Pharmacokinetics, 4th ed., chapter 11).</summary>
    public double Accumulation => Area / FirstArea;

    /// <summary>The mean over time.</summary>
    public double Average => Area / Length;

    /// <summary>How far it goes up and down, as a share of its mean: the peak-to-trough fluctuation (Rowland and Tozer, Clinical
    /// Pharmacokinetics, 4th ed., chapter 11).</summary>
    public double Fluctuation => (Maximum - Minimum) / Average;

    /// <summary>Whether it was within the target all the time, to a millionth of the stretch.</summary>
    public bool IsInside => Inside >= Length * (1 - 1e-6);
}

/// <summary>How one number of exposure spreads over subjects.</summary>
/// <param name="Mean">The geometric mean where all are above zero, else the mean.</param>
/// <param name="Variation">The geometric coefficient of variation, √(exp(s²) − 1) of the standard deviation s of the logarithms; where not
/// all are above zero the standard deviation over the mean.</param>
/// <param name="Median">Half of the subjects lie below.</param>
/// <param name="Low">Below it lie 5% of the subjects.</param>
/// <param name="High">Above it lie 5%.</param>
public sealed record ExposureSummary(double Mean, double Variation, double Median, double Low, double High)
{
    /// <param name="values">At least one, all finite.</param>
    public static ExposureSummary Of(IReadOnlyList<double> values)
    {
        var geometric = values.All(value => value > 0);
        double[] scaled = geometric ? [.. values.Select(value => Math.Log(value))] : [.. values];
        var mean = scaled.Average();
        var variance = scaled.Length < 2 ? 0 : scaled.Sum(value => (value - mean) * (value - mean)) / (scaled.Length - 1);
        var ends = Sampling.Quantiles.Of(values, 0.05, 0.5, 0.95);
        return geometric
            ? new(Math.Exp(mean), Math.Sqrt(Math.Exp(variance) - 1), ends[1], ends[0], ends[2])
            : new(mean, Math.Sqrt(variance) / Math.Abs(mean), ends[1], ends[0], ends[2]);
    }
}
