using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Inference;

public class FitTests
{
    private static DataSet Weeks(int count, Func<int, double> value) =>
        new("d", "cases", [.. Enumerable.Range(0, count).Select(k => new DataRow(7 * k, 7 * (k + 1), value(k)))]);

    private static (StudyDocument Document, Observation Observation) Study(string lines, ErrorLaw law, params FitParameter[] parameters)
    {
        var document = Studies.Of(lines, 150);
        var flow = document.Flows.First(candidate => document.Describe(candidate) == "E → I");
        document = document with { Fit = new(law, [.. parameters]) };
        return (document, new("o", "d", "Cases", flow.Id, "rho"));
    }

    private static double[] Expected(StudyDocument document, Observation observation, int weeks) =>
        new ObservedModel(Lowering.Lower(document), [new(observation, Weeks(weeks, _ => 0))], []).Predict([]).Mean;

    [Theory]
    [InlineData(ErrorLaw.Poisson)]
    [InlineData(ErrorLaw.NegativeBinomial)]
    public void A_fit_without_noise_returns_the_truth_to_six_digits(ErrorLaw law)
    {
        var (truth, observation) = Study(Studies.Latent, law);
        var expected = Expected(truth, observation, 20);
        var (document, _) = Study(
            Studies.Latent.Replace("0.36", "0.5").Replace("I(0) = 3", "I(0) = 10").Replace("rho = 0.4", "rho = 0.7"),
            law,
            new FitParameter("beta", 0.1, 2),
            new FitParameter("I.start", 0.1, 100),
            new FitParameter("rho", 0.01, 1)
        );
        var result = Fitter.Run(document, [new(observation, Weeks(20, k => expected[k]))]);
        double Value(string address) => result.Estimates.Single(estimate => estimate.Address == address).Value;
        Assert.Equal(0.36, Value("beta"), 0.36e-6);
        Assert.Equal(3, Value("I.start"), 3e-6);
        Assert.Equal(0.4, Value("rho"), 0.4e-6);
    }

    [Fact]
    public void Gradients_agree_with_central_differences()
    {
        var (document, observation) = Study(Studies.Latent, ErrorLaw.Poisson);
        ValueAddress[] addresses = ["beta", "I.start", "rho", "E.stay", "gamma"];
        var model = new ObservedModel(Lowering.Lower(document), [new(observation, Weeks(10, _ => 0))], addresses);
        double[] at = [0.36, 3, 0.4, 3, 0.2];
        var gradient = model.Predict(at).Gradient;
        for (var j = 0; j < at.Length; j++)
        {
            // The cube root of the solver's 1e-9 balances its error against the curvature.
            var h = 1e-3 * at[j];
            double[] up = [.. at],
                down = [.. at];
            up[j] += h;
            down[j] -= h;
            var (high, low) = (model.Predict(up).Mean, model.Predict(down).Mean);
            for (var row = 0; row < 10; row++)
            {
                var difference = (high[row] - low[row]) / (2 * h);
                Assert.Equal(difference, gradient[row, j], 1e-4 * Math.Abs(difference) + 1e-6);
            }
        }
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void Tangents_of_a_decay_are_right_to_eight_digits_whether_or_not_they_are_under_error_control(bool controlled)
    {
        // What leaves A in a row is A0 (e^(-k a) - e^(-k b)), and its derivative by k A0 (b e^(-k b) - a e^(-k a)).
        var document = Studies.Of("A(0) = 1000; k = 0.07 per day; A -> B at k", 150);
        var model = new ObservedModel(
            Lowering.Lower(document),
            [new(new("o", "d", "Cases", document.Flows[0].Id, "1"), Weeks(20, _ => 0))],
            ["k", "A.start"],
            controlled
        );
        var prediction = model.Predict([0.07, 1000]);
        for (var row = 0; row < 20; row++)
        {
            double a = 7 * row,
                b = a + 7,
                k = 0.07;
            // 1e-8 of the largest entry: ten times the tolerance of the solve, whose errors add up over the span.
            Assert.Equal(1000 * (Math.Exp(-k * a) - Math.Exp(-k * b)), prediction.Mean[row], 1e-8 * 390);
            Assert.Equal(1000 * (b * Math.Exp(-k * b) - a * Math.Exp(-k * a)), prediction.Gradient[row, 0], 1e-8 * 4300);
            Assert.Equal(Math.Exp(-k * a) - Math.Exp(-k * b), prediction.Gradient[row, 1], 1e-8 * 0.39);
        }
    }

    /// <summary>Seven weeks, cases still growing: counts are the rounded expectation, so that the outcome does not depend on luck.</summary>
    private static FitResult FitSevenWeeks(ErrorLaw law, params FitParameter[] parameters)
    {
        var (document, observation) = Study(Studies.Latent, law, parameters);
        var expected = Expected(document, observation, 7);
        return Fitter.Run(document, [new(observation, Weeks(7, k => Math.Round(expected[k])))]);
    }

    private static readonly FitParameter Beta = new("beta", 0.05, 2);
    private static readonly FitParameter Initial = new("I.start", 0.1, 200);
    private static readonly FitParameter Reporting = new("rho", 0.01, 1);

    private static void KnownAsProductOnly(FitResult result)
    {
        foreach (var address in new[] { "I.start", "rho" })
        {
            var estimate = result.Estimates.Single(candidate => candidate.Address == address);
            Assert.Equal(Knowledge.OnlyTogether, estimate.Knowledge);
            Assert.Contains("product", estimate.Sentence);
        }
        var combination = Assert.Single(result.Combinations);
        Assert.Equal([1, 1], combination.Powers);
        // The truth, 3 × 0.4.
        Assert.InRange(1.2, combination.Low, combination.High);
        // Far narrower than the initial number alone, whose interval spans more than a factor of thirty.
        Assert.True(combination.High / combination.Low < 6, $"{combination.Low} to {combination.High}");
    }

    [Theory]
    [InlineData(ErrorLaw.Poisson)]
    [InlineData(ErrorLaw.NegativeBinomial)]
    public void Initial_number_and_reporting_are_known_only_as_a_product(ErrorLaw law)
    {
        var result = FitSevenWeeks(law, Beta, Initial, Reporting);
        KnownAsProductOnly(result);
        Assert.Equal(Knowledge.Known, result.Estimates[0].Knowledge);
    }

    [Fact]
    public void They_stay_so_when_the_transmission_rate_is_fixed() =>
        KnownAsProductOnly(FitSevenWeeks(ErrorLaw.Poisson, Initial, Reporting));

    [Fact]
    public void Fixing_either_of_the_two_makes_the_other_known()
    {
        foreach (var chosen in new[] { Initial, Reporting })
        {
            var result = FitSevenWeeks(ErrorLaw.Poisson, Beta, chosen);
            Assert.Empty(result.Combinations);
            Assert.All(result.Estimates, estimate => Assert.Equal(Knowledge.Known, estimate.Knowledge));
        }
    }

    [Fact]
    public void Crossed_bounds_and_too_few_rows_are_refused_in_words()
    {
        var (document, observation) = Study(Studies.Latent, ErrorLaw.Poisson, Beta with { Upper = 0.01 });
        Assert.Contains(
            "cross",
            Assert.Throws<FitRefusedException>(() => Fitter.Run(document, [new(observation, Weeks(7, _ => 1))])).Message
        );
        (document, observation) = Study(Studies.Latent, ErrorLaw.Poisson, Beta, Initial, Reporting);
        Assert.Contains(
            "cannot tell 3 values apart",
            Assert.Throws<FitRefusedException>(() => Fitter.Run(document, [new(observation, Weeks(2, _ => 1))])).Message
        );
    }
}
