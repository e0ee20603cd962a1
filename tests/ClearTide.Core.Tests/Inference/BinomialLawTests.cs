using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Model;
using MathNet.Numerics.Distributions;
using MathNet.Numerics.RootFinding;

namespace ClearTide.Core.Tests.Inference;

/// <summary>So many out of a known number, against a library's binomial law and closed forms.</summary>
public class BinomialLawTests
{
    private static readonly SpreadLaw Law = SpreadLaw.Of(ErrorLaw.Binomial);

    private static DataRow Row(double counted, double number) => new(1, 1, counted / number) { OutOf = number };

    [Theory]
    [InlineData(0, 20, 0.1)]
    [InlineData(13, 200, 0.07)]
    [InlineData(20, 20, 0.93)]
    [InlineData(1, 1, 0.5)]
    [InlineData(49_000, 100_000, 0.4897)]
    public void The_probability_is_that_of_the_library(int counted, int number, double chance) =>
        // Logarithms of factorials of 100,000 are a million: fifteen digits of them leave nine behind the point.
        Assert.Equal(new Binomial(chance, number).ProbabilityLn(counted), Law.Log(Row(counted, number), chance, 1), 1e-8);

    [Theory]
    [InlineData(20, 0.1)]
    [InlineData(7, 0.8)]
    public void Its_score_has_mean_zero_and_the_stated_information(int number, double chance)
    {
        var law = new Binomial(chance, number);
        double Mean(Func<DataRow, double> of) =>
            Enumerable.Range(0, number + 1).Sum(count => law.Probability(count) * of(Row(count, number)));
        Assert.Equal(0, Mean(row => Law.Slope(row, chance, 1)), 1e-11);
        var information = Law.Information(Row(0, number), chance, 1);
        Assert.Equal(information, Mean(row => Math.Pow(Law.Slope(row, chance, 1), 2)), 1e-10 * information);
        Assert.Equal(Law.Variance(Row(0, number), chance, 1), Mean(row => Math.Pow(row.Value - chance, 2)), 1e-13);
        // A share below 3.5 of the number is 0 to 3 of it.
        var below = Row(3.5, number) with { Below = true };
        Assert.Equal(Math.Log(law.CumulativeDistribution(3)), Law.Log(below, chance, 1), 1e-12);
        const double h = 1e-6;
        var slope = (Law.Log(below, chance + h, 1) - Law.Log(below, chance - h, 1)) / (2 * h);
        Assert.Equal(slope, Law.Slope(below, chance, 1), 1e-6 * Math.Abs(slope));
    }

    [Fact]
    public void Shares_that_were_rounded_are_whole_counts_again()
    {
        // 13 of 197 with seven digits is 13 of 197.
        var rounded = new DataRow(1, 1, Math.Round(13.0 / 197, 9)) { OutOf = 197 };
        Assert.Equal(Law.Log(Row(13, 197), 0.07, 1), Law.Log(rounded, 0.07, 1));
    }

    [Fact]
    public void Quantiles_of_what_may_be_seen_are_shares_that_can_be()
    {
        var forecast = new Predictive(Law, Row(0, 12), 0.3, 0, 1);
        var law = new Binomial(0.3, 12);
        foreach (var share in new[] { 0.01, 0.3, 0.5, 0.975 })
        {
            var count = Enumerable.Range(0, 13).First(count => law.CumulativeDistribution(count) >= share);
            Assert.Equal(count / 12.0, forecast.Quantile(share), 1e-15);
        }
        // Uncertain of its chance, what may be seen never leaves 0 to 1.
        Assert.Equal([0, 1], new Predictive(Law, Row(0, 12), 0.5, 0.6, 1).Quantiles([0.001, 0.999]));
    }

    private static Series Survey(params (double Counted, double Number)[] rows) =>
        new(
            new("o", "d", "Carriers", "", "1")
            {
                Seen = ObservedAs.Standing,
                Formula = "p",
                Law = ErrorLaw.Binomial,
            },
            new("d", "survey", [.. rows.Select((row, k) => Row(row.Counted, row.Number) with { Start = k + 1, End = k + 1 })])
        );

    private static FitResult Fit(Series series) =>
        Fitter.Run(
            Studies.Of("p = 0.4; A(0) = 10; A -> at 0.1 per day", 20) with
            {
                Fit = new(ErrorLaw.Poisson, [new("p", 0.001, 0.999)]) { Starts = 3 },
            },
            [series]
        );

    [Fact]
    public void The_chance_of_all_is_their_share_with_its_error_and_its_profile()
    {
        var fit = Fit(Survey((13, 200), (4, 90), (9, 110)));
        const double share = 26.0 / 400;
        var estimate = fit.Estimates[0];
        Assert.Equal(share, estimate.Value, 1e-9);
        Assert.Equal(Math.Sqrt(share * (1 - share) / 400), estimate.StandardError, 1e-9);
        double Fall(double p) => 26 * Math.Log(share / p) + 374 * Math.Log((1 - share) / (1 - p)) - ProfileInterval.Fall;
        // An interval is found to a thousandth of two standard errors.
        var near = 2 * estimate.StandardError / 1000;
        Assert.Equal(Brent.FindRoot(Fall, 0.01, share, 1e-12), estimate.Low!.Value, near);
        Assert.Equal(Brent.FindRoot(Fall, share, 0.3, 1e-12), estimate.High!.Value, near);
        Assert.Equal(2 - 2 * fit.LogLikelihood, fit.Aic, 1e-12);
    }

    [Fact]
    public void What_is_no_share_out_of_a_number_is_refused_in_words()
    {
        var survey = Survey((13, 200), (4, 90));
        var without = survey with { Data = survey.Data with { Rows = [new(1, 1, 0.4)] } };
        Assert.Contains("out of", Assert.Throws<FitRefusedException>(() => Fit(without)).Message.Replace("of how many", "out of"));
        var amount = survey with { Observation = survey.Observation with { Formula = "A" } };
        Assert.Contains("share", Assert.Throws<FitRefusedException>(() => Fit(amount)).Message);
        var flow = survey with { Observation = survey.Observation with { Seen = ObservedAs.Integral } };
        Assert.Contains("I / N", Assert.Throws<FitRefusedException>(() => Fit(flow)).Message);
    }
}
