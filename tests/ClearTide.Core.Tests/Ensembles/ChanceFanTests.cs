using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Ensembles;

/// <summary>What chance makes of the curves of a study.</summary>
public class ChanceFanTests
{
    private static ChanceFan Of(string lines, int replicates = 1000) => ChanceFan.Of(Lowering.Lower(Studies.Of(lines, 20)), replicates);

    [Fact]
    public void Bands_of_immigration_and_death_are_the_quantiles_of_its_Poisson_law()
    {
        var fan = Of("-> A : 12; A -> at 0.5; A(0) = 0");
        var curve = Assert.Single(fan.Curves);
        Assert.Equal(101, fan.Times.Count);
        Assert.Equal((0.0, 20.0), (fan.Times[0], fan.Times[^1]));
        Assert.Equal(new Band(0, 0, 0, 0, 0), curve.Bands[0]);
        // At the end of 20 days the mean is 24 but for e^-10 of it.
        var last = curve.Bands[^1];
        foreach (var (share, value) in new[] { (0.05, last.P5), (0.25, last.P25), (0.5, last.Median), (0.75, last.P75), (0.95, last.P95) })
        {
            // Five standard errors of a sample share to both sides of the count.
            var error = 5 * Math.Sqrt(share * (1 - share) / 1000);
            Assert.True(Poisson.CDF(24, Math.Ceiling(value)) >= share - error && Poisson.CDF(24, Math.Floor(value) - 1) <= share + error);
        }
        Assert.Equal(5, fan.Runs.Count);
        Assert.All(fan.Runs, run => Assert.All(run[0], amount => Assert.Equal(Math.Floor(amount), amount)));
        Assert.StartsWith("1,000 runs by chance: half of them", fan.Words);
        // Rates in proportion to amounts have the same mean with chance and without.
        Assert.DoesNotContain("parts", fan.Words);
    }

    [Fact]
    public void Where_the_mean_of_chance_parts_from_the_curve_it_is_said_and_why()
    {
        // An epidemic that three begin dies out at once in (1/2)^3 of all runs, and is late in others.
        var fan = Of("S -> I : 0.8 * S * I / 200; I -> R at 0.4; S(0) = 197; I(0) = 3; R(0) = 0");
        Assert.Contains("Their mean parts from the curve of", fan.Words);
        // Of five one is left for ever, which a run without chance uses up.
        var pairs = Of("reaction r: 2 A -> B : 0.2 * A * A; A(0) = 5; B(0) = 0");
        Assert.Contains("another mean than at the mean amounts", pairs.Words);
    }

    [Theory]
    [InlineData("A(0) = 40; A -> at 0.1; y = delay(A, 3 days)", "Delays with chance")]
    [InlineData("A(0) = 40; A -> B at k", "no part of the model is unfinished")]
    public void What_chance_cannot_do_is_said_and_nothing_is_drawn(string lines, string words)
    {
        var fan = Of(lines);
        Assert.Empty(fan.Curves);
        Assert.Contains(words, fan.Words);
    }

    [Fact]
    public void Very_many_are_moved_many_at_a_time()
    {
        var fan = Of("S -> I : 0.8 * S * I / 1e8; I -> R at 0.4; S(0) = 99e6; I(0) = 1e6; R(0) = 0", 50);
        Assert.Contains("many units at a time", fan.Words);
        Assert.DoesNotContain("parts", fan.Words);
    }
}
