using ClearTide.Core.Data;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Draws of what data leave of values, against laws in closed form. Each has 300 of them from a fixed stream: means within four
/// standard errors, spreads within a fifth.</summary>
public class EstimateDrawTests
{
    private const int Kept = 300;

    private static FitResult Fit(string lines, ErrorLaw law, (double Value, double? Error)[] rows, params FitParameter[] parameters) =>
        Fitter.Run(
            Studies.Of(lines, 20) with
            {
                Fit = new(ErrorLaw.Poisson, [.. parameters]),
            },
            [
                new(
                    new("o", "d", "Level", "", "1")
                    {
                        Seen = ObservedAs.Standing,
                        Formula = "y",
                        Law = law,
                    },
                    new("d", "levels", [.. rows.Select((row, k) => new DataRow(k + 1, k + 1, row.Value) { Error = row.Error })])
                ),
            ]
        );

    private static void Has(double mean, double spread, IReadOnlyList<double> draws)
    {
        Assert.Equal(Kept, draws.Count);
        var average = draws.Average();
        Assert.Equal(mean, average, 4 * spread / Math.Sqrt(Kept));
        Assert.Equal(spread, Math.Sqrt(draws.Average(draw => (draw - average) * (draw - average))), 0.2 * spread);
    }

    [Fact]
    public void A_mean_with_known_errors_is_normal()
    {
        var fit = Fit("m = 1; y = m + 0 * t", ErrorLaw.Normal, [(10, 1), (13, 1), (11.5, 1)], new FitParameter("m", -100, 100));
        Has(11.5, 1 / Math.Sqrt(3), [.. fit.Detail!.Draws.Select(draw => draw[0])]);
    }

    [Fact]
    public void A_Poisson_mean_with_a_gamma_prior_is_gamma()
    {
        var prior = Prior.Read("gamma(2, 1)").Prior;
        var fit = Fit(
            "m = 1; y = m + 0 * t",
            ErrorLaw.Poisson,
            [(3, null), (5, null), (2, null), (6, null)],
            new FitParameter("m", 0.01, 100) { Prior = prior }
        );
        Has(20.0 / 6, Math.Sqrt(20) / 6, [.. fit.Detail!.Draws.Select(draw => draw[0])]);
    }

    [Fact]
    public void Quantities_that_follow_from_values_have_intervals_of_their_own()
    {
        var fit = Fit(
            "m = 1; c = 3; double = 2 * m; other = 2 * c; y = m + 0 * t; A(0) = 4; share = A / m",
            ErrorLaw.Normal,
            [(10, 1), (13, 1), (11.5, 1)],
            new FitParameter("m", -100, 100)
        );
        // Neither what depends on nothing estimated, nor what needs a run; y is m.
        Assert.Equal(["double", "y"], fit.Detail!.Derived.Select(one => one.Symbol));
        var derived = fit.Detail.Derived[0];
        Assert.Equal(("double", 23.0), (derived.Symbol, Math.Round(derived.Value, 6)));
        Assert.Equal(["m"], derived.Of);
        // Ends of 300 draws: a standard error of a 2.5% quantile is 0.15 deviations of 2/√3.
        var reach = 1.959964 * 2 / Math.Sqrt(3);
        Assert.Equal(23 - reach, derived.Low, 4 * 0.15 * 2 / Math.Sqrt(3));
        Assert.Equal(23 + reach, derived.High, 4 * 0.15 * 2 / Math.Sqrt(3));
    }

    [Fact]
    public void A_bound_cuts_draws_off()
    {
        // Half of a normal law: its mean is √(2/π) deviations away from the bound, and its variance 1 - 2/π of the whole.
        var fit = Fit("m = 1; y = m + 0 * t", ErrorLaw.Normal, [(0, 1)], new FitParameter("m", -100, 0));
        Has(-Math.Sqrt(2 / Math.PI), Math.Sqrt(1 - 2 / Math.PI), [.. fit.Detail!.Draws.Select(draw => draw[0])]);
        Assert.All(fit.Detail.Draws, draw => Assert.InRange(draw[0], -100, 0));
    }

    [Fact]
    public void Values_that_are_known_only_together_are_drawn_along_their_ridge_to_the_bounds()
    {
        (double, double?)[] rows = [.. Enumerable.Repeat((40.0, (double?)null), 10)];
        var fit = Fit("a = 8; b = 5; y = a * b + 0 * t", ErrorLaw.Poisson, rows, new("a", 2, 200), new("b", 0.2, 20));
        var draws = fit.Detail!.Draws;
        // The logarithm of the product: a gamma law of 400 counts is as good as normal, with an error of a twentieth.
        Has(Math.Log(40), 0.05, [.. draws.Select(draw => Math.Log(draw[0] * draw[1]))]);
        // Each alone is even on a log scale between its bounds: a twelfth of the square of the width.
        var width = Math.Log(100);
        Has(Math.Log(20), width / Math.Sqrt(12), [.. draws.Select(draw => Math.Log(draw[0]))]);
        Assert.NotEmpty(fit.Combinations);
        var spread = EstimateSpread.Of(fit, fit.Detail.Setup)!;
        Assert.Equal(spread.Draw(3, 8), spread.Draw(3, 8));
        Assert.Contains(spread.Draw(3, 8)[0], draws.Select(draw => draw[0]));
        Assert.True(Enumerable.Range(0, 200).Select(r => spread.Draw(3, r)[0]).Distinct().Count() > 80);
    }
}
