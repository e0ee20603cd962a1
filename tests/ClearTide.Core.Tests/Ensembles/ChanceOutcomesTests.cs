using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Model;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Ensembles;

/// <summary>Outcomes by chance against exact laws, with fixed seeds.</summary>
public class ChanceOutcomesTests
{
    private const int Runs = 4000;

    private static ChanceOutcomes Of(string lines, string symbol, OutcomeKind kind, double end, double level = 0, int runs = Runs)
    {
        var study = Studies.Of(lines, end);
        var lowered = Lowering.Lower(study);
        return ChanceOutcomes.Of(lowered, study.PartBySymbol(symbol)!.Id, kind, level, runs, lowered.Network.ValueVector());
    }

    [Fact]
    public void What_is_left_of_ten_is_binomial()
    {
        var found = Of("A(0) = 10; A -> at 0.2", "A", OutcomeKind.Final, 5);
        var law = new Binomial(Math.Exp(-1), 10);
        for (var k = 0; k <= 8; k++)
        {
            var (share, expected) = (found.Above(k), 1 - law.CumulativeDistribution(k));
            // A share of n lies within 4.5 standard errors but for 7 in a million.
            Assert.Equal(expected, share.Share, 4.5 * Math.Sqrt(expected * (1 - expected) / Runs) + 1e-9);
            Assert.InRange(share.Share, share.Low, share.High);
        }
        Assert.Equal((Runs, 0), (found.Runs, found.Without));
        Assert.Equal(found.Values.Order(), found.Values);
    }

    [Fact]
    public void The_first_time_at_a_level_is_that_of_the_last_of_ten()
    {
        // All are gone by t with (1 − e^(−t/5))^10; looked at at 400 times, a crossing is told up to a step of 0.1 late.
        var found = Of("A(0) = 10; A -> at 0.2", "A", OutcomeKind.FirstCrossing, 40, 0.5);
        foreach (var t in new[] { 8.0, 12, 16 })
        {
            double Gone(double time) => Math.Pow(1 - Math.Exp(-time / 5), 10);
            var share = found.Values.Count(value => value <= t) / (double)Runs;
            var slack = 4.5 * Math.Sqrt(0.25 / Runs);
            Assert.InRange(share, Gone(t - 0.1) - slack, Gone(t) + slack);
        }
        // What is not gone by the end has no such time.
        Assert.Equal(1 - Math.Pow(1 - Math.Exp(-8), 10), found.Without / (double)Runs, 0.005);
    }

    [Fact]
    public void An_epidemic_dies_out_with_the_probability_of_its_branching()
    {
        // One infectious among many: it dies out with probability 1/R0 = 1/2 (Bailey, The Mathematical Theory of Infectious Diseases,
        // 2nd ed., section 6.5), in which case few are ever infected.
        var found = Of(
            "S(0) = 20000; I(0) = 1; R(0) = 0; S -> I : 0.4 * S * I / 20000; I -> R at 0.2",
            "R",
            OutcomeKind.Final,
            300,
            runs: 1000
        );
        Assert.Equal(0.5, found.Above(1000).Share, 4.5 * Math.Sqrt(0.25 / 1000));
    }

    [Fact]
    public void Wilsons_interval_is_the_published_one()
    {
        // Newcombe, Statistics in Medicine 17, 1998, table I: 81 of 263, 15 of 148, 0 of 20, 1 of 29.
        (int, int, double, double)[] published =
        [
            (81, 263, 0.2553, 0.3662),
            (15, 148, 0.0624, 0.1605),
            (0, 20, 0, 0.1611),
            (1, 29, 0.0061, 0.1718),
        ];
        foreach (var (count, all, low, high) in published)
        {
            var share = Proportion.Of(count, all);
            Assert.Equal(low, share.Low, 5e-5);
            Assert.Equal(high, share.High, 5e-5);
        }
    }

    [Theory]
    [InlineData("A", OutcomeKind.HalfLife, 10, "smooth curve")]
    [InlineData("A", OutcomeKind.Final, 0, "How many runs")]
    [InlineData("A", OutcomeKind.Final, 200_000, "How many runs")]
    public void What_cannot_be_asked_is_told(string symbol, OutcomeKind kind, int runs, string why) =>
        Assert.Contains(why, Assert.ThrowsAny<Exception>(() => Of("A(0) = 10; A -> at 0.2", symbol, kind, 5, runs: runs)).Message);

    [Fact]
    public void A_run_that_fails_on_the_way_is_told_in_a_sentence()
    {
        // The rate has no value where three are left.
        var refused = Assert.Throws<ArgumentException>(() =>
            Of("A(0) = 5; B(0) = 0; A -> B : 1 / (A - 3)", "A", OutcomeKind.Final, 50, runs: 20)
        );
        Assert.IsType<ArgumentException>(refused);
        Assert.EndsWith(".", refused.Message);
    }
}
