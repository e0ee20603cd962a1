using ClearTide.Core.Sampling;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Sampling;

/// <summary>Laws of counts by mean and variance, against the cumulative probabilities of a library.</summary>
public class CountLawTests
{
    private static readonly double[] Shares = [1e-9, 0.001, 0.05, 0.25, 0.5, 0.7501, 0.95, 0.999, 1 - 1e-9];

    /// <summary>A quantile is the least count that has so much at or below it; both add up some thousand roundings.</summary>
    private static void IsQuantile(Func<double, double> cumulative, double mean, double variance)
    {
        foreach (var share in Shares)
        {
            var count = CountLaw.Quantile(mean, variance, share);
            Assert.True(cumulative(count) >= share - 1e-12, $"{count} has {cumulative(count)} of {share}");
            Assert.True(count == 0 || cumulative(count - 1) < share + 1e-12, $"{count} is not the least for {share}");
        }
    }

    [Theory]
    [InlineData(1, 0.4)]
    [InlineData(12, 0.05)]
    [InlineData(70, 0.4)]
    [InlineData(5000, 0.97)]
    [InlineData(200_000, 0.4)]
    public void Of_less_variance_than_mean_it_is_binomial(int n, double p) =>
        IsQuantile(count => Binomial.CDF(p, n, count), n * p, n * p * (1 - p));

    [Theory]
    [InlineData(0.02)]
    [InlineData(3)]
    [InlineData(900)]
    public void Of_as_much_it_is_Poisson(double mean) => IsQuantile(count => Poisson.CDF(mean, count), mean, mean);

    [Theory]
    [InlineData(3, 0.5)]
    [InlineData(40, 5)]
    [InlineData(900, 1)]
    public void Of_more_it_is_negative_binomial(double mean, double k) =>
        IsQuantile(count => NegativeBinomial.CDF(k, k / (k + mean), count), mean, mean + mean * mean / k);

    [Fact]
    public void Wide_laws_are_close_to_those_of_real_numbers_and_what_has_no_variance_is_its_mean()
    {
        // A binomial count of 40 million out of a hundred: the normal law is off by less than a unit there.
        Assert.Equal(Normal.InvCDF(4e7, Math.Sqrt(2.4e7), 0.9), CountLaw.Quantile(4e7, 2.4e7, 0.9), 1.0);
        // The gamma law of the same mean and variance: a count goes in steps of one, of a thousandth of the spread here.
        var (mean, k) = (1e6, 2.0);
        Assert.Equal(Gamma.InvCDF(k, k / mean, 0.05), CountLaw.Quantile(mean, mean * mean / k, 0.05), 1.0);
        Assert.Equal((17, 0, 0), (CountLaw.Quantile(17, 0, 0.3), CountLaw.Quantile(0, 3, 0.3), CountLaw.Quantile(-1e-9, 3, 0.3)));
    }

    [Fact]
    public void A_mean_and_a_variance_that_are_of_no_binomial_law_still_have_both_nearly()
    {
        // Between thinning and the negative binomial law: 20 with a variance of 17 would be 133.3 out of which 0.15 are seen.
        double[] all = [.. Enumerable.Range(0, 20_000).Select(k => CountLaw.Quantile(20, 17, (k + 0.5) / 20_000))];
        var mean = all.Average();
        // The law without its end differs by what lies beyond 133, nothing; the rest is the rounding of shares.
        Assert.Equal(20, mean, 0.01);
        Assert.Equal(17, all.Average(count => (count - mean) * (count - mean)), 0.03);
    }
}
