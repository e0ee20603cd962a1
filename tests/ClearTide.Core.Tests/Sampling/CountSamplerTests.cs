using ClearTide.Core.Sampling;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Sampling;

/// <summary>Samplers of counts against their laws: chi-squared over bins at a false-alarm rate of 1e-5 with a fixed seed, and moments where
/// there are too many counts for bins.</summary>
public class CountSamplerTests
{
    private const int Draws = 200_000;

    private static double[] Drawn(Func<RandomStream, (double, RandomStream)> draw)
    {
        var stream = new RandomStream(12, 0, "test", "counts");
        var drawn = new double[Draws];
        for (var k = 0; k < Draws; k++)
            (drawn[k], stream) = draw(stream);
        return drawn;
    }

    private static double[] Binomials(double n, double p) => Drawn(stream => (CountSampler.Binomial(ref stream, n, p), stream));

    private static double[] Poissons(double mean) => Drawn(stream => (CountSampler.Poisson(ref stream, mean), stream));

    private static void HasLaw(double[] drawn, Func<int, double> probability)
    {
        var counts = drawn.GroupBy(value => value).ToDictionary(group => (int)group.Key, group => group.Count());
        var (statistic, bins, expected, seen) = (0.0, 0, 0.0, 0);
        // Neighbours join until twenty are expected of them, so that the statistic is close to its limit.
        for (var k = 0; k <= counts.Keys.Max() + 200; k++)
        {
            expected += Draws * probability(k);
            seen += counts.GetValueOrDefault(k);
            if (expected < 20)
                continue;
            statistic += (seen - expected) * (seen - expected) / expected;
            (bins, expected, seen) = (bins + 1, 0, 0);
        }
        Assert.True(ChiSquared.CDF(bins - 1, statistic) < 1 - 1e-5, $"chi-squared {statistic} of {bins} bins");
    }

    [Theory]
    [InlineData(7, 0.3)]
    [InlineData(60, 0.05)]
    [InlineData(60, 0.95)]
    [InlineData(80, 0.4)]
    [InlineData(400, 0.5)]
    [InlineData(3000, 0.01)]
    [InlineData(100_000, 0.0002)]
    public void Binomial_counts_have_their_law(int n, double p) => HasLaw(Binomials(n, p), k => k > n ? 0 : Binomial.PMF(p, n, k));

    [Theory]
    [InlineData(0.2)]
    [InlineData(4)]
    [InlineData(11)]
    [InlineData(150)]
    public void Poisson_counts_have_their_law(double mean) => HasLaw(Poissons(mean), k => Poisson.PMF(mean, k));

    [Theory]
    [InlineData(1e6, 0.3)]
    [InlineData(1e9, 1e-7)]
    [InlineData(1e12, 0.4)]
    public void Counts_of_very_many_have_their_moments(double n, double p)
    {
        foreach (var (drawn, mean, variance) in new[] { (Binomials(n, p), n * p, n * p * (1 - p)), (Poissons(n * p), n * p, n * p) })
        {
            // Five standard errors, and of rounding in the mean of numbers of 1e12.
            Assert.Equal(mean, drawn.Average(), 5 * Math.Sqrt(variance / Draws) + 1e-10 * mean);
            var middle = drawn.Average();
            Assert.Equal(1, drawn.Average(value => Math.Pow(value - middle, 2)) / variance, 5 * Math.Sqrt(2.0 / Draws));
            Assert.All(drawn.Take(1000), value => Assert.Equal(Math.Floor(value), value));
            // A third of a normal law's shares beyond one deviation: a shape that is off shows here.
            var beyond = drawn.Count(value => Math.Abs(value - mean) > Math.Sqrt(variance));
            Assert.Equal(0.3173, (double)beyond / Draws, variance < 1000 ? 0.03 : 0.006);
        }
    }

    [Fact]
    public void Ends_are_certain()
    {
        var stream = new RandomStream(1, 0, "test", "ends");
        Assert.Equal(0, CountSampler.Binomial(ref stream, 50, 0));
        Assert.Equal(50, CountSampler.Binomial(ref stream, 50, 1));
        Assert.Equal(0, CountSampler.Binomial(ref stream, 0, 0.5));
        Assert.Equal(0, CountSampler.Poisson(ref stream, 0));
    }
}
