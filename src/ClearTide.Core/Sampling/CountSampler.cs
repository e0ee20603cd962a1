using MathNet.Numerics;

namespace ClearTide.Core.Sampling;

/// <summary>
/// Exact samplers of counts at all sizes: by inversion where few are expected (Kachitvichyanukul and Schmeiser, Commun. ACM 31, 1988, pp.
/// 216–222), else by transformed rejection with squeeze (Hörmann, Insurance: Mathematics and Economics 12, 1993, pp. 39–45, for Poisson;
/// J. Stat. Comput. Simul. 46, 1993, pp. 101–110, for binomial).
/// </summary>
internal static class CountSampler
{
    /// <summary>Below this many expected, inversion is quicker.</summary>
    private const double Few = 10;

    /// <summary>How many of some come about, each with the same probability.</summary>
    /// <param name="stream">Where the random numbers come from; it moves on.</param>
    /// <param name="trials">Whole, zero or more; up to 2^53.</param>
    /// <param name="probability">From 0 to 1; what rounding has put outside is taken for the end.</param>
    public static double Binomial(ref RandomStream stream, double trials, double probability)
    {
        if (trials < 1 || !(probability > 0))
            return 0;
        if (probability >= 1)
            return trials;
        if (probability > 0.5)
            return trials - Binomial(ref stream, trials, 1 - probability);
        return trials * probability < Few ? ByInversion(ref stream, trials, probability) : ByRejection(ref stream, trials, probability);
    }

    /// <summary>How many come about that are independent of each other.</summary>
    /// <param name="stream">Where the random numbers come from; it moves on.</param>
    /// <param name="mean">Zero or more, finite.</param>
    public static double Poisson(ref RandomStream stream, double mean)
    {
        if (!(mean > 0))
            return 0;
        if (mean < Few)
        {
            // The product of uniform numbers falls below exp(-mean) after as many as there are events.
            var (count, limit, product) = (0, Math.Exp(-mean), stream.NextUniform());
            for (; product > limit; count++)
                product *= stream.NextUniform();
            return count;
        }
        var root = Math.Sqrt(mean);
        var b = 0.931 + 2.53 * root;
        var a = -0.059 + 0.02483 * b;
        var inverse = 1.1239 + 1.1328 / (b - 3.4);
        var squeeze = 0.9277 - 3.6224 / (b - 2);
        while (true)
        {
            var u = stream.NextUniform() - 0.5;
            var v = stream.NextUniform();
            var us = 0.5 - Math.Abs(u);
            var k = Math.Floor((2 * a / us + b) * u + mean + 0.43);
            if (us >= 0.07 && v <= squeeze)
                return k;
            if (k < 0 || us < 0.013 && v > us)
                continue;
            if (Math.Log(v * inverse / (a / (us * us) + b)) <= LogPoisson(k, mean))
                return k;
        }
    }

    private static double ByInversion(ref RandomStream stream, double trials, double probability)
    {
        var ratio = probability / (1 - probability);
        // log1p keeps the digits of a small probability of many.
        var none = Math.Exp(trials * Log1p(-probability));
        while (true)
        {
            var (left, share) = (stream.NextUniform(), none);
            for (var k = 0.0; k <= trials; k++)
            {
                if (left < share)
                    return k;
                left -= share;
                share *= ratio * (trials - k) / (k + 1);
                // What is left of rounding behind the last share that counts: drawn again.
                if (share < 1e-20 * none && k > 100)
                    break;
            }
        }
    }

    private static double ByRejection(ref RandomStream stream, double trials, double probability)
    {
        var (n, p, q) = (trials, probability, 1 - probability);
        var deviation = Math.Sqrt(n * p * q);
        var b = 1.15 + 2.53 * deviation;
        var a = -0.0873 + 0.0248 * b + 0.01 * p;
        var centre = n * p + 0.5;
        var squeeze = 0.92 - 4.2 / b;
        while (true)
        {
            var u = stream.NextUniform() - 0.5;
            var v = stream.NextUniform();
            var us = 0.5 - Math.Abs(u);
            var k = Math.Floor((2 * a / us + b) * u + centre);
            if (k < 0 || k > n)
                continue;
            if (us >= 0.07 && v <= squeeze)
                return k;
            // Worked out where it is needed, which is for one in some ten.
            var alpha = (2.83 + 5.1 / b) * deviation;
            if (Math.Log(v * alpha / (a / (us * us) + b)) <= LogRatio(n, Math.Floor((n + 1) * p), k, Math.Log(p / q)))
                return k;
        }
    }

    /// <summary>The logarithm of a Poisson probability, without the cancellation of large terms.</summary>
    private static double LogPoisson(double k, double mean) =>
        k < Few
            ? k * Math.Log(mean) - mean - SpecialFunctions.GammaLn(k + 1)
            : (k - mean) - k * Log1p((k - mean) / mean) - 0.5 * Math.Log(2 * Math.PI * k) - Stirling(k);

    /// <summary>The logarithm of the probability of k over that of the mode.</summary>
    private static double LogRatio(double n, double mode, double k, double odds)
    {
        if (Math.Min(Math.Min(k, mode), Math.Min(n - k, n - mode)) < Few)
            return SpecialFunctions.GammaLn(mode + 1)
                + SpecialFunctions.GammaLn(n - mode + 1)
                - SpecialFunctions.GammaLn(k + 1)
                - SpecialFunctions.GammaLn(n - k + 1)
                + (k - mode) * odds;
        // Factorials by Stirling's series, their large parts taken together before they cancel.
        var away = mode - k;
        return Factorials(mode, k) + Factorials(n - mode, n - k) + away * (Math.Log(k / (n - k)) - odds);
    }

    /// <summary>ln(m!/k!) less (m − k) ln k.</summary>
    private static double Factorials(double m, double k) => (m + 0.5) * Log1p((m - k) / k) - (m - k) + Stirling(m) - Stirling(k);

    /// <summary>ln(1 + x): what rounding takes from 1 + x is put back (Goldberg, ACM Comput. Surv. 23, 1991, theorem 4).</summary>
    private static double Log1p(double x)
    {
        var sum = 1 + x;
        return sum == 1 ? x : Math.Log(sum) * x / (sum - 1);
    }

    /// <summary>What Stirling's formula leaves of ln k! (Abramowitz and Stegun, Handbook of Mathematical Functions, 6.1.41).</summary>
    private static double Stirling(double k)
    {
        var square = 1 / (k * k);
        return (1.0 / 12 - square * (1.0 / 360 - square * (1.0 / 1260 - square / 1680))) / k;
    }
}
