using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Inference;

/// <summary>Residuals held against what they would be if law and model were right.</summary>
public static class ResidualChecks
{
    /// <summary>Each residual, from low to high, with the one that is expected at its place of as many standard normal numbers (Blom,
    /// Statistical Estimates and Transformed Beta-Variables, 1958: the quantile at (k − 3/8) / (n + 1/4)).</summary>
    /// <param name="residuals">Standardised residuals, in any order.</param>
    public static IReadOnlyList<(double Expected, double Found)> Quantiles(IReadOnlyList<double> residuals)
    {
        double[] sorted = [.. residuals.Where(double.IsFinite).Order()];
        return [.. sorted.Select((residual, k) => (Normal.InvCDF(0, 1, (k + 1 - 0.375) / (sorted.Length + 0.25)), residual))];
    }

    /// <summary>How far residuals go with those before them, at each lag from 1 on: the sample autocorrelation about zero (Box, Jenkins and
    /// Reinsel, Time Series Analysis, 4th ed., 2.1.5). Without any, 95% lie within 1.96 / √n.</summary>
    /// <param name="residuals">In order of time.</param>
    /// <param name="lags">How many lags at most; never more than a quarter of the residuals.</param>
    public static IReadOnlyList<double> Autocorrelation(IReadOnlyList<double> residuals, int lags = 12)
    {
        double[] known = [.. residuals.Where(double.IsFinite)];
        var all = known.Sum(residual => residual * residual);
        return all > 0
            ?
            [
                .. Enumerable
                    .Range(1, Math.Min(lags, known.Length / 4))
                    .Select(lag => Enumerable.Range(0, known.Length - lag).Sum(k => known[k] * known[k + lag]) / all),
            ]
            : [];
    }
}
