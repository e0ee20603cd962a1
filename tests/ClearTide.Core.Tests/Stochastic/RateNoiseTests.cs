using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;
using MathNet.Numerics;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Stochastic;

/// <summary>Noise in rates against the laws that a gamma time makes of Poisson and exponential ones. Seeds are fixed; each bound of four
/// standard errors would fail by chance once in fifteen thousand.</summary>
public class RateNoiseTests
{
    private static double[] Ends(string lines, ChanceMethod method, int replicates, double end = 10, double step = 1)
    {
        var lowered = Lowering.Lower(Studies.Of(lines, end));
        var request = new EnsembleRequest(lowered.Compiled, lowered.Network.ValueVector(), [0, end], replicates, 7)
        {
            Method = method,
            Step = step,
        };
        var found = new double[replicates];
        var engine = request.Engine();
        for (var r = 0; r < replicates; r++)
            found[r] = Ensemble.RunOne(engine, request, r, default).Amount(1, 0);
        return found;
    }

    [Theory]
    [InlineData(0.05)]
    [InlineData(0.7)]
    [InlineData(3)]
    [InlineData(80)]
    public void Gamma_numbers_have_their_law(double shape)
    {
        const int n = 20_000;
        var stream = new RandomStream(5, 1, "test", "gamma");
        double[] drawn = [.. Enumerable.Range(0, n).Select(_ => GammaSampler.Next(ref stream, shape)).Order()];
        // Near nothing the library's own function is nothing too early.
        double Law(double x) => x < 1e-8 ? Math.Pow(x, shape) / SpecialFunctions.Gamma(shape + 1) : Gamma.CDF(shape, 1, x);
        // Kolmogorov's bound at one in a thousand.
        var apart = drawn.Index().Max(one => Math.Max(Math.Abs(Law(one.Item) - one.Index / (double)n), 1.0 / n));
        Assert.InRange(apart, 0, 1.95 / Math.Sqrt(n));
    }

    [Theory]
    [InlineData(ChanceMethod.ChainBinomial, 1)]
    [InlineData(ChanceMethod.ChainBinomial, 0.1)]
    [InlineData(ChanceMethod.Leap, 1)]
    public void What_comes_in_at_a_noisy_rate_is_negative_binomial_whatever_the_step(ChanceMethod method, double step)
    {
        // Poisson with a gamma time of mean 10 and variance 0.09 · 10: k = 10 / 0.09, and a mean of 1000.
        const int n = 4000;
        var found = Ends("-> A : 100, noise 0.3; A(0) = 0", method, n, step: step);
        const double k = 10 / 0.09,
            variance = 1000 + 1000.0 * 1000 / k;
        var mean = found.Average();
        Assert.Equal(1000, mean, 4 * Math.Sqrt(variance / n));
        Assert.Equal(1, found.Sum(one => (one - mean) * (one - mean)) / (n - 1) / variance, 4 * Math.Sqrt(2.0 / n));
        var law = new NegativeBinomial(k, k / (k + 1000));
        Assert.Equal(law.CumulativeDistribution(900), found.Count(one => one <= 900) / (double)n, 4 * Math.Sqrt(0.25 / n));
    }

    [Theory]
    [InlineData(ChanceMethod.ChainBinomial, 1)]
    [InlineData(ChanceMethod.ChainBinomial, 0.25)]
    public void What_leaves_at_a_noisy_rate_is_left_as_the_transform_of_the_gamma_law_says(ChanceMethod method, double step)
    {
        // Each is left with e^(−k Γ): together their mean is the transform at k, and their second moment that at 2k.
        const int n = 4000;
        const double k = 0.1,
            variance = 0.5 * 0.5,
            crowd = 1000;
        static double Transform(double s) => Math.Pow(1 + s * variance, -10 / variance);
        var found = Ends("A -> at k, noise 0.5; A(0) = 1000; k = 0.1", method, n, step: step);
        var mean = crowd * Transform(k);
        var spread = crowd * (Transform(k) - Transform(2 * k)) + crowd * crowd * (Transform(2 * k) - Transform(k) * Transform(k));
        Assert.Equal(mean, found.Average(), 4 * Math.Sqrt(spread / n));
        // The law is near normal: four standard errors of a variance, and a tenth of one for its skewness.
        Assert.Equal(1, found.Sum(one => (one - mean) * (one - mean)) / n / spread, 4.4 * Math.Sqrt(2.0 / n));
    }

    [Fact]
    public void Leaps_leave_as_many_as_the_chain_binomial()
    {
        const int n = 1500;
        const string lines = "A -> at k, noise 0.5; A(0) = 1000; k = 0.1";
        var (leap, chain) = (Ends(lines, ChanceMethod.Leap, n), Ends(lines, ChanceMethod.ChainBinomial, n, step: 0.1));
        double Deviation(double[] all) => Math.Sqrt(all.Sum(one => (one - all.Average()) * (one - all.Average())) / (n - 1));
        // Rates hold for a leap, which may be off by its share of three per cent.
        Assert.Equal(chain.Average(), leap.Average(), 4 * Deviation(chain) * Math.Sqrt(2.0 / n) + 0.03 * chain.Average());
        Assert.Equal(1, Deviation(leap) / Deviation(chain), 4 * Math.Sqrt(1.0 / n) + 0.05);
    }

    [Fact]
    public void All_stages_of_a_flow_have_one_noise_and_two_flows_have_two()
    {
        // Two exits of like rates from like crowds: what is left goes together where one flow has stages, and not where flows are two.
        var lowered = Lowering.Lower(Studies.Of("A -> at 0.2, noise 1; B -> at 0.2, noise 1; A(0) = 100000; B(0) = 100000", 5));
        var request = new EnsembleRequest(lowered.Compiled, lowered.Network.ValueVector(), [0, 5], 600, 3)
        {
            Method = ChanceMethod.ChainBinomial,
        };
        var engine = request.Engine();
        var runs = Enumerable.Range(0, 600).Select(r => Ensemble.RunOne(engine, request, r, default)).ToList();
        var together = MathNet.Numerics.Statistics.Correlation.Pearson(
            runs.Select(run => run.Amount(1, 0)),
            runs.Select(run => run.Amount(1, 1))
        );
        Assert.InRange(together, -4 / Math.Sqrt(600), 4 / Math.Sqrt(600));
        var staged = Lowering.Lower(Studies.Of("A -> at 0.2 in 3 stages, noise 1; A(0) = 10", 5)).Network;
        Assert.Equal([1.0, 1, 1], staged.Processes.Select(process => process.Noise));
        Assert.Single(staged.Processes.Select(process => process.Id).Distinct());
    }

    [Fact]
    public void The_exact_law_refuses_noise_and_what_chooses_by_itself_leaps()
    {
        var lowered = Lowering.Lower(Studies.Of("A -> at 0.2, noise 0.5; A(0) = 10", 5));
        var request = new EnsembleRequest(lowered.Compiled, lowered.Network.ValueVector(), [0, 5], 5, 1);
        Assert.Equal(ChanceMethod.Leap, Ensemble.Choose(request).Method);
        Assert.Contains(
            "noise in a rate",
            Assert.Throws<EnsembleRefusedException>(() => Ensemble.Run(request, 1, run => [run.AmountColumn(0)])).Message
        );
        var document = lowered.Study;
        var projection = new ProjectionRequest(5, 1, new Dictionary<ValueAddress, double>()) { Of = document.Compartments[0].Id };
        Assert.Equal(ProjectionChance.Leap, new Projection(document, null, projection).Method);
        var exact = projection with { Chance = ProjectionChance.Exact };
        Assert.Contains("noise in a rate", Assert.Throws<ProjectionRefusedException>(() => new Projection(document, null, exact)).Message);
    }

    [Theory]
    [InlineData("A -> B at 0.2, noise 0.5")]
    [InlineData("A -> B at 0.2 in 3 stages, noise 0.5")]
    [InlineData("A -> B : 3 limited, noise 0.5")]
    [InlineData("-> A : 3, noise 0.5")]
    public void Noise_is_typed_behind_a_rate_and_written_as_it_was_typed(string line)
    {
        var document = Studies.Of(line + "; A(0) = 10; B(0) = 0", 10);
        Assert.Equal("0.5", document.Flows[0].Noise);
        Assert.EndsWith(line[(line.IndexOf("-> ", StringComparison.Ordinal) + 2)..], LineText.Of(document, document.Flows[0]));
    }

    [Fact]
    public void Noise_is_set_and_refused_in_its_field_and_goes_with_the_root_of_time()
    {
        var document = Studies.Of("A -> at 0.2 per day; A(0) = 10", 10);
        var flow = document.Flows[0].Id;
        StudyDocument Set(string value) => new SetField(flow, PartField.Noise, value).Apply(document).Document!;
        Assert.Equal("0.4", Set("0.4").Flows[0].Noise);
        Assert.Equal("", Set("").Flows[0].Noise);
        foreach (var wrong in new[] { "loud", "-1", "0", "1e9" })
            Assert.Contains("How much noise?", new SetField(flow, PartField.Noise, wrong).Apply(document).Refusal);
        Assert.Contains("How much noise?", new AddLines("B -> at 0.2, noise none; B(0) = 1").Apply(document).Refusal);
        // The variance over a week in days² is 0.16 · 7, which is 0.16 / 7 in weeks²; a field shows some six digits.
        var weeks = new SetTimeUnit(TimeUnit.Find("week")!, Convert: true).Apply(Set("0.4")).Document!;
        Assert.Equal(0.4 * Math.Sqrt(1.0 / 7), weeks.Flows[0].NoiseIntensity, 1e-5);
    }
}
