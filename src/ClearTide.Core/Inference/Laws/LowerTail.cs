using MathNet.Numerics;

namespace ClearTide.Core.Inference.Laws;

/// <summary>The likelihood of a value of which only an upper limit is known.</summary>
/// <param name="Log">The natural logarithm of the probability of being below.</param>
/// <param name="Slope">Its derivative by the mean.</param>
/// <param name="Information">About the mean, never below zero.</param>
internal readonly record struct LowerTail(double Log, double Slope, double Information)
{
    /// <summary>Counts are summed up to this limit; beyond it a limit of detection makes no sense for a count.</summary>
    private const int MostCounts = 100_000;

    /// <summary>Below here the complementary error function runs out of range, and its asymptotic series has all digits.</summary>
    private const double Deep = -30;

    /// <summary>The lower tail of the standard normal law.</summary>
    /// <param name="z">The limit, in standard deviations from the mean.</param>
    /// <param name="turn">The derivative of z by the mean.</param>
    public static LowerTail OfNormal(double z, double turn)
    {
        var log = LogPhi(z);
        // The density over the tail, the inverse of Mills' ratio: minus the slope of its own logarithm is h (h + z), between 0 and 1.
        var hazard = Math.Exp(-0.5 * z * z - NormalLaw.HalfLogTwoPi - log);
        return new(log, hazard * turn, Math.Max(0, hazard * (hazard + z)) * turn * turn);
    }

    /// <summary>ln Φ(z) (Abramowitz and Stegun, Handbook of Mathematical Functions, 26.2.29 and 26.2.12).</summary>
    private static double LogPhi(double z)
    {
        if (z > Deep)
            return Math.Log(0.5 * SpecialFunctions.Erfc(-z / Constants.Sqrt2));
        var w = 1 / (z * z);
        return -0.5 * z * z
            - NormalLaw.HalfLogTwoPi
            - Math.Log(-z)
            + Math.Log(1 - w * (1 - 3 * w * (1 - 5 * w * (1 - 7 * w * (1 - 9 * w)))));
    }

    /// <summary>The probability of all whole numbers below a limit. Its information is that of a yes or no, P'²/(P (1 − P)).</summary>
    /// <param name="limit">Whole, above zero.</param>
    /// <param name="log">The natural logarithm of the probability of a count.</param>
    /// <param name="slope">Its derivative by the mean.</param>
    public static LowerTail OfCounts(double limit, Func<double, double> log, Func<double, double> slope)
    {
        double sum = 0,
            change = 0,
            highest = double.NegativeInfinity;
        var counts = (int)Math.Min(Math.Ceiling(limit), MostCounts);
        for (var count = 0; count < counts; count++)
            highest = Math.Max(highest, log(count));
        if (double.IsNegativeInfinity(highest))
            return new(highest, 0, 0);
        for (var count = 0; count < counts; count++)
        {
            // Relative to the most likely of them, so that nothing is lost where all are unlikely.
            var share = Math.Exp(log(count) - highest);
            sum += share;
            change += share * slope(count);
        }
        var probability = Math.Min(1, sum * Math.Exp(highest));
        var score = change / sum;
        return new(Math.Min(0, highest + Math.Log(sum)), score, probability < 1 ? score * score * probability / (1 - probability) : 0);
    }
}
