using ClearTide.Core.Inference;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Inference;

public class CountLikelihoodTests
{
    [Theory]
    [InlineData(0, 2.5)]
    [InlineData(3, 2.5)]
    [InlineData(40, 31)]
    public void Poisson_has_its_probabilities(int count, double mean)
    {
        var factorial = Enumerable.Range(1, count).Aggregate(1.0, (product, k) => product * k);
        Assert.Equal(
            Math.Log(Math.Pow(mean, count) * Math.Exp(-mean) / factorial),
            CountLikelihood.Log(ErrorLaw.Poisson, count, mean, 1),
            1e-10
        );
    }

    [Theory]
    [InlineData(0.7, 3)]
    [InlineData(5, 12)]
    [InlineData(200, 40)]
    public void Negative_binomial_sums_to_one_with_the_stated_mean_and_variance(double k, double mean)
    {
        double total = 0,
            first = 0,
            second = 0;
        for (var count = 0; count < 4000; count++)
        {
            var probability = Math.Exp(CountLikelihood.Log(ErrorLaw.NegativeBinomial, count, mean, k));
            total += probability;
            first += count * probability;
            second += (double)count * count * probability;
        }
        // The tail beyond 4000 is below 1e-12 for the widest of these laws; the sums are good to rounding.
        Assert.Equal(1, total, 1e-9);
        Assert.Equal(mean, first, 1e-8 * mean);
        Assert.Equal(CountLikelihood.Variance(ErrorLaw.NegativeBinomial, mean, k), second - first * first, 1e-6 * mean * mean);
    }

    [Fact]
    public void Negative_binomial_with_a_huge_k_is_Poisson() =>
        // The two differ by about (y - mean)² / (2 k).
        Assert.Equal(CountLikelihood.Log(ErrorLaw.Poisson, 17, 20, 1), CountLikelihood.Log(ErrorLaw.NegativeBinomial, 17, 20, 1e7), 1e-5);

    [Theory]
    [InlineData(ErrorLaw.Poisson)]
    [InlineData(ErrorLaw.NegativeBinomial)]
    public void The_slope_is_the_derivative(ErrorLaw law)
    {
        const double h = 1e-5;
        var difference = (CountLikelihood.Log(law, 9, 7 + h, 3) - CountLikelihood.Log(law, 9, 7 - h, 3)) / (2 * h);
        Assert.Equal(difference, CountLikelihood.Slope(law, 9, 7, 3), 1e-8);
    }

    [Fact]
    public void An_expectation_of_nothing_allows_nothing()
    {
        Assert.Equal(0, CountLikelihood.Log(ErrorLaw.Poisson, 0, 0, 1));
        Assert.Equal(double.NegativeInfinity, CountLikelihood.Log(ErrorLaw.Poisson, 1, 0, 1));
    }
}
