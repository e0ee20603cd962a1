using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Fits whose answer can be written down: a constant inflow counted over intervals.</summary>
public class KnownEstimateTests
{
    private static FitResult Fit(ErrorLaw law, params double[] counts)
    {
        var document = Studies.Of("-> A : r; r = 3", 1000) with { Fit = new(law, [new("r", 0.01, 1000)]) };
        var data = new DataSet("d", "counts", [.. counts.Select((count, k) => new DataRow(2 * k, 2 * (k + 1), count))]);
        return Fitter.Run(document, [new(new("o", "d", "Arrivals", document.Flows[0].Id, "1"), data)]);
    }

    [Fact]
    public void A_constant_rate_is_the_mean_with_its_Poisson_error()
    {
        double[] counts = [12, 9, 14, 7, 11, 10];
        var estimate = Fit(ErrorLaw.Poisson, counts).Estimates[0];
        // Total over exposure; variance of the total is the total.
        Assert.Equal(counts.Sum() / 12, estimate.Value, 1e-6);
        Assert.Equal(Math.Sqrt(counts.Sum()) / 12, estimate.StandardError, 1e-6);
    }

    [Fact]
    public void The_profile_interval_ends_where_the_likelihood_ratio_says()
    {
        double[] counts = [12, 9, 14, 7, 11, 10];
        var estimate = Fit(ErrorLaw.Poisson, counts).Estimates[0];
        var total = counts.Sum();
        double Fall(double rate) => total * Math.Log(estimate.Value / rate) - 12 * (estimate.Value - rate);
        // Twelve halvings of a stride of two standard errors of about 0.26 leave 1e-4 of the rate; the fall moves by some 1e-3 there.
        Assert.Equal(1.920729, Fall(estimate.Low!.Value), 5e-3);
        Assert.Equal(1.920729, Fall(estimate.High!.Value), 5e-3);
        Assert.True(estimate.Low < estimate.Value && estimate.Value < estimate.High);
    }

    [Fact]
    public void Counts_that_spread_more_than_Poisson_get_a_small_k_and_wider_errors()
    {
        double[] counts = [1, 30, 4, 22, 0, 41, 9, 2, 17, 3];
        var wide = Fit(ErrorLaw.NegativeBinomial, counts);
        Assert.InRange(wide.Spreads[0]!.Value.Main, 0.3, 3);
        Assert.Equal(counts.Average() / 2, wide.Estimates[0].Value, 1e-4);
        Assert.True(wide.Estimates[0].StandardError > 2 * Fit(ErrorLaw.Poisson, counts).Estimates[0].StandardError);
    }

    [Fact]
    public void Nothing_counted_bounds_a_rate_from_above_only()
    {
        var estimate = Fit(ErrorLaw.Poisson, 0, 0, 0, 0).Estimates[0];
        Assert.Equal(Knowledge.OneSided, estimate.Knowledge);
        Assert.Null(estimate.Low);
        // The fall at a rate is the expected total, eight intervals of it, less the one at the lower bound of 0.01.
        Assert.Equal(1.920729 / 8 + 0.01, estimate.High!.Value, 2e-3);
        Assert.Contains("at most", estimate.Sentence);
    }

    [Fact]
    public void Two_rates_that_only_add_up_are_not_told_apart()
    {
        var document = Studies.Of("-> A : r * s; r = 3; s = 1", 1000) with
        {
            Fit = new(ErrorLaw.Poisson, [new("r", 0.01, 1000), new("s", 0.01, 1000)]),
        };
        var data = new DataSet("d", "counts", [.. Enumerable.Range(0, 8).Select(k => new DataRow(k, k + 1, 20))]);
        var result = Fitter.Run(document, [new(new("o", "d", "Arrivals", document.Flows[0].Id, "1"), data)]);
        Assert.All(result.Estimates, estimate => Assert.Equal(Knowledge.OnlyTogether, estimate.Knowledge));
        var product = Assert.Single(result.Combinations);
        Assert.Equal("r × s", product.Expression);
        Assert.Equal(20, product.Value, 1e-4);
    }

    [Fact]
    public void A_ratio_is_named_a_ratio()
    {
        var document = Studies.Of("-> A : r / s; r = 3; s = 1", 1000) with
        {
            Fit = new(ErrorLaw.Poisson, [new("r", 0.01, 1000), new("s", 0.01, 1000)]),
        };
        var data = new DataSet("d", "counts", [.. Enumerable.Range(0, 8).Select(k => new DataRow(k, k + 1, 20))]);
        var product = Assert.Single(Fitter.Run(document, [new(new("o", "d", "Arrivals", document.Flows[0].Id, "1"), data)]).Combinations);
        Assert.Equal("r ÷ s", product.Expression);
    }

    [Fact]
    public void A_cancelled_fit_stops()
    {
        var document = Studies.Of("-> A : r; r = 3", 1000) with { Fit = new(ErrorLaw.Poisson, [new("r", 0.01, 1000)]) };
        var data = new DataSet("d", "counts", [new DataRow(0, 1, 3), new DataRow(1, 2, 3)]);
        using var cancel = new CancellationTokenSource();
        cancel.Cancel();
        Assert.Throws<OperationCanceledException>(() =>
            Fitter.Run(document, [new(new("o", "d", "Arrivals", document.Flows[0].Id, "1"), data)], null, cancel.Token)
        );
    }
}
