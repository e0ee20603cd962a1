using System.Collections.Immutable;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Inference;

/// <summary>What residuals show that they should not, where law and model are right: too wide or too narrow a spread, stretches of one
/// sign,
/// rows that stand out. Each with what usually mends it.</summary>
internal static class ResidualPatterns
{
    /// <summary>Rows of a series that say something of their pattern at least.</summary>
    private const int Least = 5;

    /// <param name="document">The study, for names and units.</param>
    /// <param name="search">The likelihood of the fit.</param>
    /// <param name="best">Where the likelihood is greatest.</param>
    /// <param name="fitted">For each row, series by series.</param>
    public static ImmutableArray<string> Of(
        StudyDocument document,
        LikelihoodSearch search,
        SearchPoint best,
        ImmutableArray<RowFit> fitted
    )
    {
        var found = ImmutableArray.CreateBuilder<string>();
        var at = 0;
        var series = search.Model.Series;
        var (all, values) = (fitted.Length, search.Dimension);
        for (var k = 0; k < series.Count; k++)
        {
            var rows = series[k].Data.Used;
            var residuals = new List<(DataRow Row, double Residual, double Mean)>();
            for (var i = 0; i < rows.Count; i++, at++)
            {
                if (double.IsFinite(fitted[at].Residual))
                    residuals.Add((rows[i], fitted[at].Residual, best.Mean[at]));
            }
            var (label, law) = (series[k].Observation.Label, series[k].Observation.LawIn(document.Fit));
            if (StandsOut(document, label, residuals, all) is var (row, words))
            {
                found.Add(words);
                // What it says is said: the others are looked at without it.
                residuals.RemoveAll(one => one.Row == row);
            }
            if (residuals.Count < Least)
                continue;
            // Each series gives up a share of the values that were estimated, by how many of the rows it has.
            var freedom = residuals.Count - (double)values * residuals.Count / all;
            if (!search.HasSpread(k) && freedom > 0 && Width(label, law, residuals, freedom) is { } width)
                found.Add(width);
            // One subject after another: stretches of one sign are looked for along each.
            if (Stretches(label, [.. residuals.OrderBy(one => one.Row.Subject, StringComparer.Ordinal)]) is { } stretches)
                found.Add(stretches);
        }
        return found.ToImmutable();
    }

    /// <summary>Pearson's statistic against chi-squared, at 1% on each side (McCullagh and Nelder, Generalized Linear Models, 2nd ed.,
    /// 4.5).</summary>
    private static string? Width(string label, ErrorLaw law, List<(DataRow Row, double Residual, double Mean)> residuals, double freedom)
    {
        var statistic = residuals.Sum(one => one.Residual * one.Residual);
        var below = ChiSquared.CDF(freedom, statistic);
        var times = NumberWords.Of(statistic / freedom, 2);
        if (below > 0.99)
            return law == ErrorLaw.Poisson
                    ? $"{label} spread more than a Poisson law does: {times} times its variance. Try the negative binomial law, and see "
                        + "whether the curve passes through the middle of the points."
                : law == ErrorLaw.Binomial
                    ? $"{label} spread more than so many out of a number do: {times} times their variance. Those that were looked at "
                        + "together may be alike, or the model lacks something."
                : $"{label} lie further from the curve than their errors say: {times} times their variance. The errors are too small, "
                    + "or the model lacks something.";
        return below < 0.01
            ? $"{label} lie closer to the curve than they should: {times} times the variance. They may have been smoothed or summed "
                + "up before they came, and intervals are too wide then."
            : null;
    }

    /// <summary>The number of stretches of one sign against its law in random order, at 2.5% (Wald and Wolfowitz, Annals of Mathematical
    /// Statistics 11, 1940, pp. 147–162); exact.</summary>
    private static string? Stretches(string label, List<(DataRow Row, double Residual, double Mean)> residuals)
    {
        var signs = residuals.Select(one => one.Residual >= 0).ToList();
        var (above, below) = (signs.Count(sign => sign), signs.Count(sign => !sign));
        if (above == 0 || below == 0)
            return $"All points of {label} lie on one side of the curve. The model cannot reach them with the values that were estimated.";
        var runs = 1 + signs.Zip(signs.Skip(1)).Count(pair => pair.First != pair.Second);
        if (FewerRuns(above, below, runs) > 0.025)
            return null;
        var expected = 1 + 2.0 * above * below / (above + below);
        if (residuals[0].Row.Subject is not null)
            return $"{label}: the points of one subject tend to lie on one side of the curve ({runs} stretches of one side where "
                + $"{NumberWords.Of(expected, 2)} are expected). Subjects differ: let each have values of its own, or say how they follow "
                + "from what is known of each.";
        return $"{label}: points above and below the curve come in long stretches ({runs} where {NumberWords.Of(expected, 2)} are "
            + "expected). The model misses a change in time: a rate that is another one before and after, a delay, or a season.";
    }

    /// <summary>The probability of this many runs or fewer, given the number of signs of each kind.</summary>
    internal static double FewerRuns(int above, int below, int runs)
    {
        double Choose(int n, int k) => k < 0 || k > n ? double.NegativeInfinity : MathNet.Numerics.SpecialFunctions.BinomialLn(n, k);
        var all = Choose(above + below, above);
        var sum = 0.0;
        for (var r = 2; r <= runs; r++)
        {
            var half = r / 2;
            sum +=
                r % 2 == 0
                    ? 2 * Math.Exp(Choose(above - 1, half - 1) + Choose(below - 1, half - 1) - all)
                    : Math.Exp(Choose(above - 1, half) + Choose(below - 1, half - 1) - all)
                        + Math.Exp(Choose(above - 1, half - 1) + Choose(below - 1, half) - all);
        }
        return sum;
    }

    /// <summary>The row that lies furthest out, where that is rarer than one in twenty for the number of rows (Bonferroni).</summary>
    private static (DataRow Row, string Words)? StandsOut(
        StudyDocument document,
        string label,
        List<(DataRow Row, double Residual, double Mean)> residuals,
        int all
    )
    {
        if (residuals.Count == 0)
            return null;
        var (row, residual, mean) = residuals.MaxBy(one => Math.Abs(one.Residual));
        if (2 * Normal.CDF(0, 1, -Math.Abs(residual)) * all > 0.05)
            return null;
        return (
            row,
            $"{label}: the row at {document.TimeUnit.Singular} {NumberWords.Of(row.End)}{(row.Subject is { } name ? $" of {name}" : "")} "
                + $"stands out, {NumberWords.Of(row.Value)} where {NumberWords.Of(mean, 3)} is expected. Check it, or leave it out and see "
                + "what changes."
        );
    }
}
