using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Sampling;

/// <summary>
/// A distribution that random inputs are drawn from. A draw is the quantile at one uniform number (inverse transform; Devroye, Non-Uniform
/// Random Variate Generation, II.2), so that draws move smoothly with the arguments and one seed gives comparable draws under all of them.
/// </summary>
/// <param name="Name">As it is typed: <c>normal</c>.</param>
/// <param name="Arguments">Names of its arguments, in order.</param>
/// <param name="Refusal">Null if these arguments make a distribution, else a sentence that says what to do.</param>
/// <param name="Quantile">The value below which the share u lies, for 0 &lt; u &lt; 1.</param>
public sealed record Distribution(
    string Name,
    IReadOnlyList<string> Arguments,
    Func<double[], string?> Refusal,
    Func<double[], double, double> Quantile
)
{
    /// <summary>How it is typed, with the names of its arguments.</summary>
    public string Usage => $"{Name}({string.Join(", ", Arguments)})";

    /// <summary>All distributions that can be drawn from.</summary>
    public static readonly IReadOnlyList<Distribution> All =
    [
        new(
            "uniform",
            ["low", "high"],
            a => a[0] < a[1] ? null : "A uniform distribution needs a low end below its high end.",
            (a, u) => a[0] + u * (a[1] - a[0])
        ),
        new("normal", ["mean", "spread"], a => Spread(a[1]), (a, u) => Normal.InvCDF(a[0], a[1], u)),
        new(
            "lognormal",
            ["mean", "spread"],
            a => a[0] > 0 ? Spread(a[1]) : "A log-normal distribution has a mean above zero.",
            (a, u) => LogNormalQuantile(a[0], a[1], u)
        ),
        new(
            "gamma",
            ["mean", "spread"],
            a => a[0] > 0 ? Spread(a[1]) : "A gamma distribution has a mean above zero.",
            (a, u) => Gamma.InvCDF(a[0] * a[0] / (a[1] * a[1]), a[0] / (a[1] * a[1]), u)
        ),
        new(
            "exponential",
            ["mean"],
            a => a[0] > 0 ? null : "An exponential distribution has a mean above zero.",
            (a, u) => -a[0] * Math.Log(1 - u)
        ),
        new(
            "poisson",
            ["mean"],
            a => a[0] is > 0 and < 1e9 ? null : "A Poisson distribution has a mean above zero and below a thousand million.",
            (a, u) => PoissonQuantile(a[0], u)
        ),
        new("bernoulli", ["chance"], a => a[0] is >= 0 and <= 1 ? null : "A chance lies between 0 and 1.", (a, u) => u > 1 - a[0] ? 1 : 0),
    ];

    /// <summary>The distribution of this name, or null.</summary>
    /// <param name="name">The name.</param>
    public static Distribution? Find(string name) => All.FirstOrDefault(known => known.Name == name);

    private static string? Spread(double spread) => spread > 0 ? null : "The spread (standard deviation) of a distribution is above zero.";

    /// <summary>Mean and spread are those of the variable itself, not of its logarithm.</summary>
    private static double LogNormalQuantile(double mean, double spread, double u)
    {
        var variance = Math.Log(1 + spread * spread / (mean * mean));
        return Math.Exp(Math.Log(mean) - variance / 2 + Math.Sqrt(variance) * Normal.InvCDF(0, 1, u));
    }

    /// <summary>The least whole number whose cumulative probability reaches u: bisection between bounds that hold 12 standard
    /// deviations.</summary>
    private static double PoissonQuantile(double mean, double u)
    {
        var spread = Math.Sqrt(mean);
        var low = Math.Max(-1, Math.Floor(mean - 12 * spread - 12));
        var high = Math.Ceiling(mean + 12 * spread + 60);
        while (high - low > 1)
        {
            var middle = Math.Floor((low + high) / 2);
            if (Poisson.CDF(mean, middle) >= u)
                high = middle;
            else
                low = middle;
        }
        return high;
    }
}
