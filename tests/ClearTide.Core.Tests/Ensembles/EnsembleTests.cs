using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Ensembles;

/// <summary>Tallies against sorted samples, and ensembles against exact laws.</summary>
public class EnsembleTests
{
    private const int Replicates = 4000;

    private static readonly double[] Shares = [0, 0.05, 0.25, 0.5, 0.75, 0.95, 1];

    private static EnsembleRequest Ask(string lines, double[] times, int replicates = Replicates)
    {
        var lowered = Lowering.Lower(Studies.Of(lines));
        return new(lowered.Compiled, lowered.Network.ValueVector(), times, replicates, Seed: 4);
    }

    private static Tally[][] Amounts(EnsembleRequest request) =>
        Ensemble.Run(request, request.Model.Network.Amounts.Count, run =>
            [.. Enumerable.Range(0, request.Model.Network.Amounts.Count).Select(run.OutputColumn)]
        );

    [Theory]
    [InlineData(1, 0)]
    [InlineData(30, 0)]
    [InlineData(2000, 0)]
    // Beyond 2,048 a bin is a two-thousandth wide.
    [InlineData(1e7, 1.0 / 2048)]
    [InlineData(-0.37, 1.0 / 2048)]
    public void Quantiles_are_those_of_the_sorted_sample(double scale, double off)
    {
        var stream = new RandomStream(3, 0, "test", "tally");
        double[] sample =
        [
            .. Enumerable.Range(0, 501).Select(_ => off == 0 ? Math.Floor(scale * stream.NextUniform()) : scale * stream.NextUniform()),
        ];
        var (whole, parts) = (new Tally(), new Tally());
        foreach (var value in sample)
            whole.Add(value);
        foreach (var part in sample.Chunk(77).Reverse())
        {
            var one = new Tally();
            foreach (var value in part)
                one.Add(value);
            parts.Add(one);
        }
        var expected = Quantiles.Of(sample, Shares);
        foreach (var tally in (Tally[])[whole, parts])
        {
            var found = tally.Quantiles(Shares);
            for (var k = 0; k < Shares.Length; k++)
                Assert.Equal(expected[k], found[k], off * Math.Abs(expected[k]));
            var mean = sample.Average();
            Assert.Equal(mean, tally.Mean, 1e-12 * Math.Abs(scale));
            Assert.Equal(Math.Sqrt(sample.Sum(value => (value - mean) * (value - mean)) / 500), tally.Deviation, 1e-12 * Math.Abs(scale));
        }
        Assert.Equal(whole.Quantiles(Shares), parts.Quantiles(Shares));
    }

    [Fact]
    public void Immigration_and_death_is_Poisson()
    {
        // From an empty start the number at t is Poisson of mean a/b (1 - exp(-b t)).
        var cells = Amounts(Ask("-> A : 6; A -> at 0.5; A(0) = 0", [0, 1, 8]))[0];
        Assert.Equal([0, 0, 0], [cells[0].Mean, cells[0].Deviation, cells[0].Quantiles(1)[0]]);
        for (var row = 1; row < 3; row++)
        {
            var mean = 12 * (1 - Math.Exp(-0.5 * (row == 1 ? 1 : 8)));
            // 4.5 standard errors of a mean and of a variance: a right sampler fails once in about 100 000 runs.
            Assert.Equal(mean, cells[row].Mean, 4.5 * Math.Sqrt(mean / Replicates));
            Assert.Equal(mean, Math.Pow(cells[row].Deviation, 2), 4.5 * Math.Sqrt((mean + 2 * mean * mean) / Replicates));
            // Where the law's own share is at least that far from the quantile, the sample's is the same.
            var median = MathNet.Numerics.Distributions.Poisson.CDF(mean, cells[row].Quantiles(0.5)[0]);
            Assert.InRange(median, 0.5 - 4.5 * 0.5 / Math.Sqrt(Replicates), 1);
        }
    }

    [Fact]
    public void Leaving_by_two_exits_is_binomial()
    {
        var request = Ask("A -> B at 0.2; A -> C at 0.1; A(0) = 50; B(0) = 0; C(0) = 0", [0, 4]);
        var cells = Amounts(request);
        var stays = Math.Exp(-0.3 * 4);
        foreach (var (k, share) in new[] { (0, stays), (1, (1 - stays) * 2 / 3), (2, (1 - stays) / 3) })
        {
            Assert.Equal(50 * share, cells[k][1].Mean, 4.5 * Math.Sqrt(50 * share * (1 - share) / Replicates));
            var variance = 50 * share * (1 - share);
            Assert.Equal(variance, Math.Pow(cells[k][1].Deviation, 2), 4.5 * variance * Math.Sqrt(2.2 / Replicates));
        }
    }

    [Fact]
    public void The_same_bits_for_any_number_of_threads_and_a_replicate_alone_is_the_one_among_them()
    {
        var request = Ask("S -> I : 0.5 * S * I / 100; I -> R at 0.2; S(0) = 97.5; I(0) = 2.5; R(0) = 0", [0, 5, 10, 20], 300);
        var (one, eight) = (Amounts(request with { Threads = 1 }), Amounts(request with { Threads = 8 }));
        for (var k = 0; k < one.Length; k++)
        {
            for (var row = 0; row < one[k].Length; row++)
            {
                Assert.Equal(one[k][row].Mean, eight[k][row].Mean);
                Assert.Equal(one[k][row].Deviation, eight[k][row].Deviation);
                Assert.Equal(one[k][row].Quantiles(Shares), eight[k][row].Quantiles(Shares));
            }
        }
        var alone = new Tally();
        for (var r = 299; r >= 0; r--)
            alone.Add(Ensemble.RunOne(request, r).OutputColumn(1)[3]);
        Assert.Equal(one[1][3].Quantiles(Shares), alone.Quantiles(Shares));
        // Half a unit is rounded so that the total of a hundred holds.
        Assert.All(Enumerable.Range(0, 20), r =>
            Assert.Equal(100, Enumerable.Range(0, 3).Sum(k => Ensemble.RunOne(request, r).OutputColumn(k)[0]))
        );
    }

    [Fact]
    public void What_cannot_be_made_is_refused_in_a_sentence()
    {
        string Refused(EnsembleRequest request) => Assert.Throws<EnsembleRefusedException>(() => Amounts(request)).Message;
        var small = Ask("A -> at 0.1; A(0) = 5", [0, 1]);
        Assert.Contains("1 to 1,000,000", Refused(small with { Replicates = 0 }));
        Assert.Contains("1 to 1,000,000", Refused(small with { Replicates = 1_000_001 }));
        Assert.Contains("more than 200,000 cells", Refused(small with { Times = [.. Enumerable.Range(0, 200_001).Select(k => k / 1e4)] }));
        Assert.Contains("larger units", Refused(Ask("A -> B at 0.1; A(0) = 1e12; B(0) = 0", [0, 10], 1)));
    }
}
