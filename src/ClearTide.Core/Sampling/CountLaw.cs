using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Sampling;

/// <summary>
/// The law of a count by its mean and its variance: binomial where the variance is less than the mean, Poisson where they are one, negative
/// binomial where it is more. These are all laws whose probabilities go p(n) = (a + b / n) p(n − 1) (the class (a, b, 0);
/// Panjer, ASTIN Bull. 12, 1981).
/// </summary>
internal static class CountLaw
{
    /// <summary>Probability left out on either side.</summary>
    private const double Least = 1e-17;

    /// <summary>Above this standard deviation a count is taken as a real number.</summary>
    private const double Wide = 2000;

    /// <summary>The least count that has at least this share at or below it.</summary>
    /// <param name="mean">At least 0.</param>
    /// <param name="variance">At least 0; where it is 0 the count is its mean.</param>
    /// <param name="share">Between 0 and 1.</param>
    public static double Quantile(double mean, double variance, double share)
    {
        if (!(mean > 0) || !(variance > 0))
            return Math.Max(0, mean);
        if (variance > Wide * Wide)
            return Math.Max(0, Math.Round(Between(mean, variance, share)));
        var a = 1 - mean / variance;
        var b = mean * (1 - a) - a;
        // Probabilities by that of the count next to the mean, which has a weight of one.
        var middle = Math.Floor(mean);
        double below = 0,
            above = 1;
        for (double n = middle, weight = 1; n > 0; n--)
        {
            weight /= a + b / n;
            below += weight;
            if (weight < Least * below)
                break;
        }
        for (double n = middle + 1, weight = 1; ; n++)
        {
            weight *= a + b / n;
            // A binomial law ends; of a mean and a variance that are of none, somewhat before the end.
            if (!(weight > Least * above))
                break;
            above += weight;
        }
        var wanted = share * (below + above);
        return wanted <= below ? Down(a, b, middle, below, wanted) : Up(a, b, middle, wanted - below);
    }

    private static double Down(double a, double b, double middle, double below, double wanted)
    {
        double n = middle,
            weight = 1;
        while (n > 0)
        {
            weight /= a + b / n;
            n--;
            below -= weight;
            if (below < wanted)
                break;
        }
        return n;
    }

    private static double Up(double a, double b, double n, double wanted)
    {
        for (var (weight, sum) = (1.0, 1.0); sum < wanted; sum += weight)
        {
            n++;
            weight *= a + b / n;
            if (!(weight > 0))
                return n - 1;
        }
        return n;
    }

    /// <summary>Of wide laws: the gamma law is what a negative binomial one becomes, the normal one what the others do.</summary>
    private static double Between(double mean, double variance, double share) =>
        variance > mean ? Gamma.InvCDF(mean * mean / variance, mean / variance, share) : Normal.InvCDF(mean, Math.Sqrt(variance), share);
}
