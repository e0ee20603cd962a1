using System.Globalization;
using System.Text.RegularExpressions;
using ClearTide.Core.Language;
using MathNet.Numerics;

namespace ClearTide.Core.Model;

/// <summary>The law of what is known of a value before a fit.</summary>
public enum PriorLaw
{
    /// <summary>Normal around its mean.</summary>
    Normal,

    /// <summary>Its logarithm is normal; above zero.</summary>
    LogNormal,

    /// <summary>Between 0 and 1.</summary>
    Beta,

    /// <summary>Above zero.</summary>
    Gamma,

    /// <summary>Zero or more, falling from there: the upper half of a normal law around zero.</summary>
    HalfNormal,
}

/// <summary>What is known of a value before a fit, as a density over it (Johnson, Kotz and Balakrishnan, Continuous Univariate
/// Distributions, 1994 and 1995, chapters 13, 14, 17 and 25).</summary>
/// <param name="Law">Which density.</param>
/// <param name="Mean">In the value's units; of a half-normal law zero.</param>
/// <param name="Spread">The standard deviation, in the value's units; of a half-normal law that of the whole normal one.</param>
public sealed partial record Prior(PriorLaw Law, double Mean, double Spread)
{
    private static readonly (PriorLaw Law, string Name)[] Names =
    [
        (PriorLaw.Normal, "normal"),
        (PriorLaw.LogNormal, "lognormal"),
        (PriorLaw.Beta, "beta"),
        (PriorLaw.Gamma, "gamma"),
        (PriorLaw.HalfNormal, "halfnormal"),
    ];

    private static readonly double HalfLogTwoPi = 0.5 * Math.Log(2 * Math.PI);

    /// <summary>How priors are typed.</summary>
    public const string Usage =
        "normal(mean, spread), lognormal(mean, spread), gamma(mean, spread), beta(mean, spread) for a share, or halfnormal(spread)";

    /// <summary>Reads a prior as it is typed: <c>normal(0.3, 0.1)</c>.</summary>
    /// <param name="typed">As typed, or null.</param>
    /// <returns>The prior, or null with a sentence on what to do; null with none where nothing is typed.</returns>
    public static (Prior? Prior, string? Problem) Read(string? typed)
    {
        if (string.IsNullOrWhiteSpace(typed))
            return (null, null);
        var match = Call().Match(typed.Trim().ToLowerInvariant());
        var named = Names.Where(one => one.Name == match.Groups["name"].Value.Replace("-", "", StringComparison.Ordinal)).ToList();
        if (!match.Success || named.Count == 0)
            return (null, $"“{typed.Trim()}” is no prior. Type {Usage}; leave it empty for none.");
        var law = named[0].Law;
        var numbers = match.Groups["numbers"].Value.Split([',', ';'], StringSplitOptions.TrimEntries).Select(TypedNumber.Read).ToList();
        var wanted = law == PriorLaw.HalfNormal ? 1 : 2;
        if (numbers.Count != wanted || numbers.Contains(null))
            return (null, $"“{typed.Trim()}” needs {(wanted == 1 ? "one number, its spread" : "two numbers, its mean and its spread")}.");
        return (wanted == 1 ? new(law, 0, numbers[0]!.Value) : new(law, numbers[0]!.Value, numbers[1]!.Value), null);
    }

    /// <summary>As it is typed.</summary>
    public override string ToString()
    {
        var name = Names.First(one => one.Law == Law).Name;
        var spread = Spread.ToString("R", CultureInfo.InvariantCulture);
        return Law == PriorLaw.HalfNormal ? $"{name}({spread})" : $"{name}({Mean.ToString("R", CultureInfo.InvariantCulture)}, {spread})";
    }

    /// <summary>Why it is no prior for a value between these bounds, in a sentence; null where it is.</summary>
    /// <param name="lower">The lower bound; minus infinity for none.</param>
    /// <param name="upper">The upper bound; infinity for none.</param>
    public string? Refusal(double lower, double upper)
    {
        if (!double.IsFinite(Mean) || !double.IsFinite(Spread) || Spread <= 0)
            return "its spread is to be a number above zero.";
        if (!Enum.IsDefined(Law))
            return $"there is no such law. Type {Usage}.";
        if (Law is PriorLaw.LogNormal or PriorLaw.Gamma && !(Mean > 0))
            return $"the mean of a {(Law == PriorLaw.Gamma ? "gamma" : "log-normal")} law is above zero.";
        if (Law == PriorLaw.Beta && !(Mean > 0 && Mean < 1 && Spread * Spread < Mean * (1 - Mean)))
            return "a beta law has its mean between 0 and 1, and a spread below the root of mean times (1 − mean).";
        if (Law != PriorLaw.Normal && upper <= 0)
            return $"a {Names.First(one => one.Law == Law).Name} law has nothing below zero, where the bounds are. Use a normal one.";
        // Beyond six standard deviations there is nothing left of any of them that a bound could let through.
        return Mean + 6 * Spread < lower || Mean - 6 * Spread > upper
            ? $"it has nothing between the bounds {lower:G6} and {upper:G6}. Move one of them."
            : null;
    }

    /// <summary>The natural logarithm of the density at a value, with its first and second derivative; minus infinity where it has
    /// nothing.</summary>
    /// <param name="x">The value, in the unit of the study.</param>
    public (double Log, double Slope, double Curvature) At(double x)
    {
        var variance = Spread * Spread;
        if (Law != PriorLaw.Normal && (x < 0 || x == 0 && Law != PriorLaw.HalfNormal) || Law == PriorLaw.Beta && x >= 1)
            return (double.NegativeInfinity, 0, 0);
        switch (Law)
        {
            case PriorLaw.Normal:
            case PriorLaw.HalfNormal:
                var from = Law == PriorLaw.Normal ? x - Mean : x;
                var fold = Law == PriorLaw.Normal ? 0 : Math.Log(2);
                return (fold - 0.5 * from * from / variance - Math.Log(Spread) - HalfLogTwoPi, -from / variance, -1 / variance);
            case PriorLaw.LogNormal:
                var s2 = Math.Log(1 + variance / (Mean * Mean));
                var z = (Math.Log(x) - Math.Log(Mean) + 0.5 * s2) / s2;
                return (-Math.Log(x) - 0.5 * Math.Log(s2) - HalfLogTwoPi - 0.5 * z * z * s2, -(1 + z) / x, (1 + z - 1 / s2) / (x * x));
            case PriorLaw.Gamma:
                var (shape, scale) = (Mean * Mean / variance, variance / Mean);
                return (
                    (shape - 1) * Math.Log(x) - x / scale - shape * Math.Log(scale) - SpecialFunctions.GammaLn(shape),
                    (shape - 1) / x - 1 / scale,
                    -(shape - 1) / (x * x)
                );
            default:
                var size = Mean * (1 - Mean) / variance - 1;
                var (a, b) = (Mean * size, (1 - Mean) * size);
                return (
                    (a - 1) * Math.Log(x) + (b - 1) * Math.Log(1 - x) - SpecialFunctions.BetaLn(a, b),
                    (a - 1) / x - (b - 1) / (1 - x),
                    -(a - 1) / (x * x) - (b - 1) / ((1 - x) * (1 - x))
                );
        }
    }

    [GeneratedRegex(@"^(?<name>[a-z-]+)\s*\((?<numbers>[^()]*)\)$")]
    private static partial Regex Call();
}
