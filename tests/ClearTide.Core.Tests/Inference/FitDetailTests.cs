using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Inference;

/// <summary>What a fit tells besides its estimates, against closed forms: priors, profiles, optima, bands, patterns of residuals, the next
/// sample and forecasts.</summary>
public class FitDetailTests
{
    private static Series Levels(ErrorLaw? law, params (double Time, double Value, double? Error)[] rows) =>
        new(
            new("o", "d", "Level", "", "1")
            {
                Seen = ObservedAs.Standing,
                Formula = "y",
                Law = law,
            },
            new("d", "levels", [.. rows.Select(row => new DataRow(row.Time, row.Time, row.Value) { Error = row.Error })])
        );

    private static FitResult Fit(string lines, Series series, params FitParameter[] parameters) =>
        Fitter.Run(Studies.Of(lines, 20) with { Fit = new(ErrorLaw.Poisson, [.. parameters]) }, [series]);

    [Fact]
    public void A_normal_prior_is_one_row_more()
    {
        (double, double, double?)[] rows = [(1, 10, 1), (2, 16, 2), (3, 13, 0.5)];
        var fit = Fit(
            "m = 1; y = m + 0 * t",
            Levels(null, rows),
            new FitParameter("m", -100, 100) { Prior = Prior.Read("normal(8, 2)").Prior }
        );
        var weights = rows.Select(row => 1 / (row.Item3!.Value * row.Item3.Value)).ToList();
        var whole = weights.Sum() + 0.25;
        var m = fit.Estimates[0];
        Assert.Equal((rows.Zip(weights).Sum(one => one.First.Item2 * one.Second) + 8 * 0.25) / whole, m.Value, 1e-7);
        Assert.Equal(1 / Math.Sqrt(whole), m.StandardError, 1e-9);
        // The profile of a normal density is a parabola: the interval is 1.96 standard errors on each side.
        Assert.Equal(m.Value - Math.Sqrt(2 * ProfileInterval.Fall / whole), m.Low!.Value, 1e-4);
        Assert.All(fit.Detail!.Profiles[0], point => Assert.Equal(0.5 * whole * Math.Pow(point.Value - m.Value, 2), point.Fall, 1e-6));
        Assert.Equal(Normal.PDFLn(8, 2, m.Value), fit.Detail.LogPrior, 1e-9);
        // The observed information is the expected one where the law is normal and the model linear; by differences of a thousandth.
        Assert.Equal(m.StandardError, fit.Detail.ObservedErrors[0]!.Value, 1e-6);
    }

    [Fact]
    public void A_gamma_prior_of_a_Poisson_mean_is_conjugate()
    {
        var counts = new[] { 3.0, 5, 2, 6 };
        var series = Levels(ErrorLaw.Poisson, [.. counts.Select((count, k) => (k + 1.0, count, (double?)null))]);
        var fit = Fit("m = 1; y = m + 0 * t", series, new FitParameter("m", 0.01, 100) { Prior = Prior.Read("gamma(2, 1)").Prior });
        // Shape 4 and rate 2 become 4 + 16 and 2 + 4; the mode of a gamma density is (shape - 1)/rate.
        Assert.Equal(19.0 / 6, fit.Estimates[0].Value, 1e-6);
    }

    [Fact]
    public void Two_valleys_are_told_apart_and_a_ridge_is_one()
    {
        // The square of m is seen: both signs fit as well.
        var square = Fit("m = 1; y = m^2 + 0 * t", Levels(null, (1, 9, 1.0), (2, 9, 1.0)), new FitParameter("m", -10, 12)).Detail!;
        Assert.Equal(2, square.Optima.Length);
        Assert.Equal(square.Optima[0].Height, square.Optima[1].Height, 1e-9);
        Assert.Equal(0, square.Optima.Sum(one => one.Values[0]), 1e-6);
        // With the value itself seen too, one sign fits better: minima of (m² - 9)²/2 + (m - 2.5)²/2.
        var two = Fit("m = 1; y = if(t < 1.5, m^2, m)", Levels(null, (1, 9, 1.0), (2, 2.5, 1.0)), new FitParameter("m", -10, 12)).Detail!;
        double Depth(double m)
        {
            for (var round = 0; round < 50; round++)
                m -= (2 * m * (m * m - 9) + m - 2.5) / (6 * m * m - 17);
            return 0.5 * Math.Pow(m * m - 9, 2) + 0.5 * Math.Pow(m - 2.5, 2);
        }
        Assert.Equal(2, two.Optima.Length);
        Assert.Equal(Depth(-3) - Depth(3), two.Optima[0].Height - two.Optima[1].Height, 1e-6);
        Assert.Equal(20, two.Optima.Sum(one => one.Count));
        // Only the sum is seen: wherever a start ends on the line of equal sums, it is the same optimum.
        var ridge = Fit("a = 1; b = 1; y = a + b + 0 * t", Levels(null, (1, 7, 1.0), (2, 9, 1.0)), new("a", 0.1, 20), new("b", 0.1, 20));
        Assert.Equal(20, Assert.Single(ridge.Detail!.Optima).Count);
    }

    [Fact]
    public void Starts_that_cannot_be_run_are_told_with_their_reason()
    {
        // Amounts explode within the span where growth is above about 35 a day.
        var study = Studies.Of("A(0) = 1; g = 0.1; -> A : g * A * A; y = A", 8);
        var fit = Fitter.Run(study with { Fit = new(ErrorLaw.Poisson, [new("g", 0.01, 5)]) }, [Levels(null, (1, 1.1, 0.1), (5, 1.9, 0.1))]);
        Assert.NotEmpty(fit.Detail!.Failures);
        // What fails has totals and tangents beside the model's own states, which the words know nothing of.
        var flowed = Fitter.Run(
            study with
            {
                Fit = new(ErrorLaw.Poisson, [new("g", 0.01, 5)]),
            },
            [new(new("o", "d", "In", study.Flows[0].Id, "1"), new("d", "in", [new(0, 2, 1), new(2, 5, 1)]))]
        );
        Assert.All(flowed.Detail!.Failures, failure => Assert.Contains("day", failure.Reason));
        Assert.NotEmpty(flowed.Detail.Failures);
        // In words, and not by the name of what went wrong in the solver.
        Assert.All(fit.Detail.Failures, failure => Assert.Contains("day", failure.Reason));
        Assert.All(fit.Detail.Failures, failure => Assert.DoesNotContain("TooManySteps", failure.Reason));
        var infinite = new AdoptValues(new Dictionary<ValueAddress, double> { ["g"] = double.PositiveInfinity }).Apply(study);
        Assert.Contains("finite number", infinite.Refusal);
        Assert.Equal(20, fit.Detail.Failures.Length + fit.Detail.Optima.Sum(one => one.Count));
    }

    [Fact]
    public void Points_of_starts_spread_evenly()
    {
        foreach (var dimension in (int[])[1, 2, 5, 19])
        {
            var points = Enumerable.Range(0, 64).Select(k => StartPoints.At(k, dimension)).ToList();
            Assert.All(points.SelectMany(point => point), one => Assert.InRange(one, 0, 1));
            for (var j = 0; j < dimension; j++)
            {
                var sorted = points.Select(point => point[j]).Order().ToList();
                // The first 63 leave the corner out; then there is one in each 64th.
                Assert.True(sorted.Zip(sorted.Skip(1)).Max(pair => pair.Second - pair.First) <= 2.0 / 64);
            }
        }
        // The sequence begins with the centre, and then goes on as the paper of Bratley and Fox has it.
        Assert.Equal([0.5, 0.5, 0.5], StartPoints.At(0, 3));
        Assert.Equal([0.75, 0.25, 0.25], StartPoints.At(1, 3));
        Assert.Equal([0.25, 0.75, 0.75], StartPoints.At(2, 3));
    }

    [Fact]
    public void The_band_of_a_straight_line_is_that_of_least_squares()
    {
        (double Time, double Value, double? Error)[] rows = [(0, 3.1, 0.5), (2, 4.4, 0.5), (4, 7.3, 0.5), (6, 8.2, 0.5), (10, 12.6, 0.5)];
        var fit = Fit("a = 1; b = 2; y = a + b * t", Levels(null, rows), new("a", -100, 100), new("b", -100, 100));
        var mean = rows.Average(row => row.Time);
        var sxx = rows.Sum(row => Math.Pow(row.Time - mean, 2));
        for (var k = 0; k < rows.Length; k++)
        {
            var error = 0.5 * Math.Sqrt(1.0 / rows.Length + Math.Pow(rows[k].Time - mean, 2) / sxx);
            var band = fit.Detail!.Fitted[k];
            // Bounds two hundred wide add a part of some 1e-4 to the information.
            Assert.Equal(2 * 1.959964 * error, band.MeanHigh - band.MeanLow, 2e-4);
            // Five nodes hold the tails of a sum of two normal laws to a thousandth where one is a tenth of the other.
            Assert.Equal(2 * 1.959964 * Math.Sqrt(error * error + 0.25), band.High - band.Low, 0.02);
            Assert.Equal((rows[k].Value - fit.Means[k]) / 0.5, band.Residual, 1e-9);
        }
    }

    [Theory]
    [InlineData(3.0)]
    [InlineData(250.0)]
    [InlineData(40000.0)]
    public void Counts_of_a_known_mean_have_their_Poisson_quantiles(double mean)
    {
        var predictive = new Predictive(SpreadLaw.Of(ErrorLaw.Poisson), new(0, 1, 0), mean, 0, 1);
        foreach (var share in (double[])[0.025, 0.5, 0.975])
        {
            var quantile = predictive.Quantile(share);
            // Above a thousand the normal law stands for it, whose quantiles are off by a sixth of z² - 1, below one.
            var slack = mean > 1000 ? 1 : 0;
            Assert.True(Poisson.CDF(mean, quantile + slack) >= share);
            Assert.True(quantile == 0 || Poisson.CDF(mean, quantile - 1 - slack) < share);
        }
        Assert.Equal([.. new[] { 0.05, 0.5, 0.95 }.Select(predictive.Quantile)], predictive.Quantiles([0.05, 0.5, 0.95]));
        if (mean < 1000)
            Assert.Equal(Poisson.PMFLn(mean, 7), predictive.Log(7), 1e-9);
    }

    [Fact]
    public void A_Poisson_mean_that_is_uncertain_by_a_gamma_factor_is_close_to_negative_binomial()
    {
        // A log-normal and a gamma factor of 10% differ in their third moments alone.
        var predictive = new Predictive(SpreadLaw.Of(ErrorLaw.Poisson), new(0, 1, 0), 40, 4, 1);
        Assert.Equal(NegativeBinomial.PMFLn(100, 100 / 140.0, 40), predictive.Log(40), 0.02);
        Assert.Equal(Math.Sqrt(40 + 16), predictive.Deviation, 1e-12);
    }

    [Theory]
    [InlineData(3, 3, 2, 0.1)]
    [InlineData(3, 3, 3, 0.3)]
    [InlineData(3, 3, 6, 1)]
    // Of 20 orders of 3 and 3 signs, 2 have two runs and 4 three; of 10 of 2 and 3, 2, 3 and 4 have two, three and four.
    [InlineData(2, 3, 2, 0.2)]
    [InlineData(2, 3, 3, 0.5)]
    [InlineData(2, 3, 4, 0.9)]
    public void Few_runs_have_the_probability_of_counting_orders(int above, int below, int runs, double probability) =>
        Assert.Equal(probability, ResidualPatterns.FewerRuns(above, below, runs), 1e-12);

    [Fact]
    public void Residuals_that_show_a_pattern_are_told_with_what_mends_it()
    {
        string All(string lines, ErrorLaw? law, IEnumerable<(double, double, double?)> rows) =>
            string.Join(' ', Fit(lines, Levels(law, [.. rows]), new FitParameter("m", 0.01, 1000)).Detail!.Patterns);
        const string level = "m = 1; y = m + 0 * t";
        // A curve through the middle of a slope: below it first, above it then.
        Assert.Contains("long stretches", All(level, null, Enumerable.Range(1, 16).Select(k => ((double)k, 10.0 + k, (double?)null))));
        // Every other count 10, every other 40, under a law of variance 25.
        Assert.Contains(
            "negative binomial",
            All(level, ErrorLaw.Poisson, Enumerable.Range(1, 12).Select(k => ((double)k, k % 2 == 0 ? 10.0 : 40, (double?)null)))
        );
        // Hardly any spread at all under errors of one.
        Assert.Contains(
            "closer to the curve",
            All(level, null, Enumerable.Range(1, 12).Select(k => ((double)k, 50 + 0.1 * (k % 2), (double?)1.0)))
        );
        var outlying = All(
            level,
            ErrorLaw.Poisson,
            Enumerable.Range(1, 12).Select(k => ((double)k, k == 7 ? 60.0 : 20 + k % 3, (double?)null))
        );
        Assert.Contains("the row at day 7 stands out, 60 where", outlying);
        Assert.DoesNotContain("negative binomial", outlying);
        Assert.Equal(
            "",
            All(level, ErrorLaw.Poisson, new[] { 18.0, 25, 21, 16, 23, 19, 26, 20 }.Select((count, k) => (k + 1.0, count, (double?)null)))
        );
    }

    [Fact]
    public void The_next_sample_of_a_slope_is_the_one_furthest_out()
    {
        (double, double, double?)[] rows = [(0, 0.1, 1), (4, 8.3, 1), (8, 15.6, 1)];
        var next = Assert.Single(Fit("b = 1; y = b * t", Levels(null, rows), new FitParameter("b", -100, 100)).Detail!.Next);
        // Half as far again as the data go; a row of unit error at t adds t² to the sum of squares.
        Assert.Equal(12, next.End);
        var sum = 16 + 64 + 12.0 / (200 * 200);
        Assert.Equal(1.959964 / Math.Sqrt(sum), next.Before, 1e-4);
        Assert.Equal(1.959964 / Math.Sqrt(sum + 144), next.After, 1e-4);
        Assert.Equal("b", next.Address.ToString());
    }

    [Fact]
    public void The_last_rows_are_forecast_without_them()
    {
        var counts = new[] { 18.0, 25, 21, 16, 23, 19, 26, 20, 22, 17, 24, 21 };
        var series = Levels(ErrorLaw.Poisson, [.. counts.Select((count, k) => (k + 1.0, count, (double?)null))]);
        var score = Fit("m = 1; y = m + 0 * t", series, new FitParameter("m", 0.01, 1000)).Detail!.Forecast!;
        Assert.Equal((11, 2), (score.From, score.Rows));
        var (mean, error) = (counts[..10].Average(), Math.Sqrt(counts[..10].Average() / 10));
        var expected = counts[10..].Sum(count => new Predictive(SpreadLaw.Of(ErrorLaw.Poisson), new(0, 1, 0), mean, error, 1).Log(count));
        // The bounds add a millesimal to the information.
        Assert.Equal(expected, score.LogScore, 1e-3);
        Assert.Equal(2, score.Within90);
        // The score of a forecast close to normal, of a value z deviations away (Gneiting and Raftery, section 4.2).
        double Crps(double value)
        {
            var (deviation, z) = (Math.Sqrt(mean + error * error), (value - mean) / Math.Sqrt(mean + error * error));
            return deviation * (z * (2 * Normal.CDF(0, 1, z) - 1) + 2 * Normal.PDF(0, 1, z) - 1 / Math.Sqrt(Math.PI));
        }
        // Whole counts and forty quantiles leave a few percent.
        Assert.Equal(0.5 * (Crps(24) + Crps(21)), score.Crps, 0.1);
    }

    [Fact]
    public void Criteria_have_their_textbook_values()
    {
        Assert.Equal(10 + 2.0 * 3 * 4 / 6, FitCriteria.Corrected(10, 3, 10));
        Assert.Equal(double.PositiveInfinity, FitCriteria.Corrected(10, 3, 4));
        Assert.Equal(3 * Math.Log(10) + 8, FitCriteria.Bayesian(-4, 3, 10), 1e-12);
        var weights = FitCriteria.Weights([10, 12, double.PositiveInfinity]);
        Assert.Equal(1 / (1 + Math.Exp(-1)), weights[0], 1e-12);
        Assert.Equal(0, weights[2]);
    }

    [Fact]
    public void A_result_does_not_hang_on_the_number_of_threads()
    {
        var document = Studies.Of("a = 1; b = 2; y = a * exp(-b * t)", 20) with
        {
            Fit = new(ErrorLaw.Poisson, [new("a", 0.1, 100), new("b", 0.001, 10)]),
        };
        var series = Levels(ErrorLaw.LogNormal, (0, 11, null), (1, 6.2, null), (2, 4.4, null), (4, 1.7, null), (7, 0.33, null));
        var (one, four) = (Fitter.Run(document, [series], threads: 1), Fitter.Run(document, [series], threads: 4));
        Assert.Equal(one.Estimates, four.Estimates);
        Assert.Equal(
            one.Detail!.Optima.Select(optimum => (optimum.Height, optimum.Count)),
            four.Detail!.Optima.Select(optimum => (optimum.Height, optimum.Count))
        );
        Assert.Equal(one.Detail.Profiles.SelectMany(points => points), four.Detail.Profiles.SelectMany(points => points));
    }

    [Fact]
    public void What_is_tried_has_the_likelihood_of_the_fit_at_its_estimates()
    {
        var document = Studies.Of("a = 1; y = a + 0 * t", 20) with { Fit = new(ErrorLaw.Poisson, [new("a", 0.1, 100)]) };
        var series = Levels(ErrorLaw.Normal, (0, 11, null), (1, 9, null), (2, 13, null));
        var fit = Fitter.Run(document, [series]);
        var at = Trial.At(document, [series], new Dictionary<ValueAddress, double> { ["a"] = fit.Estimates[0].Value });
        Assert.Equal(fit.LogLikelihood, at.LogLikelihood, 1e-9);
        Assert.Equal(fit.Means, at.Means);
        Assert.True(Trial.At(document, [series], new Dictionary<ValueAddress, double> { ["a"] = 5 }).LogLikelihood < at.LogLikelihood - 1);
    }
}
