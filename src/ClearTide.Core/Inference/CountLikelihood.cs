using ClearTide.Core.Model;
using MathNet.Numerics;

namespace ClearTide.Core.Inference;

/// <summary>
/// The log-likelihood of one count under its expectation: Poisson, or negative binomial with variance mean + mean²/k
/// (McCullagh and Nelder, Generalized Linear Models, 2nd ed., 6.2 and 6.2.3).
/// </summary>
internal static class CountLikelihood
{
    /// <summary>Beyond this k the negative binomial is the Poisson law to all digits that matter.</summary>
    public const double LargestK = 1e7;

    /// <param name="law">Poisson or negative binomial.</param>
    /// <param name="count">What was counted; whole, zero or more.</param>
    /// <param name="mean">What is expected; above zero, or zero for a count of zero.</param>
    /// <param name="k">Ignored for Poisson.</param>
    public static double Log(ErrorLaw law, double count, double mean, double k)
    {
        if (mean <= 0)
            return count == 0 && mean == 0 ? 0 : double.NegativeInfinity;
        if (law == ErrorLaw.Poisson)
            return count * Math.Log(mean) - mean - SpecialFunctions.GammaLn(count + 1);
        // log1p keeps the digits where k is large against the mean.
        return LogRising(k, count)
            - SpecialFunctions.GammaLn(count + 1)
            - k * Log1p(mean / k)
            + count * (Math.Log(mean / k) - Log1p(mean / k));
    }

    /// <summary>Derivative of the log-likelihood by the expectation.</summary>
    public static double Slope(ErrorLaw law, double count, double mean, double k) =>
        law == ErrorLaw.Poisson ? count / mean - 1 : (count - mean) / (mean * (1 + mean / k));

    /// <summary>The variance of the count: the inverse of the expected information about its expectation.</summary>
    public static double Variance(ErrorLaw law, double mean, double k) => law == ErrorLaw.Poisson ? mean : mean + mean * mean / k;

    /// <summary>ln(Γ(k + y) / Γ(k)) without losing digits for large k and whole y.</summary>
    private static double LogRising(double k, double y)
    {
        if (y != Math.Floor(y) || y > 5000)
            return SpecialFunctions.GammaLn(k + y) - SpecialFunctions.GammaLn(k);
        var sum = 0.0;
        for (var i = 0; i < y; i++)
            sum += Math.Log(k + i);
        return sum;
    }

    private static double Log1p(double x) => Math.Abs(x) > 1e-4 ? Math.Log(1 + x) : x * (1 - x * (0.5 - x / 3));
}
