using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Model;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Inference;

/// <summary>What a law says of the spread of rows before a fit.</summary>
public class LawBandTests
{
    private static DataRow[] Rows(Func<double, double, double> at, int count = 400)
    {
        var random = new Random(9);
        return
        [
            .. Enumerable
                .Range(0, count)
                .Select(k => new DataRow(k, k, at(20 + 15 * Math.Sin(0.02 * k), Normal.InvCDF(0, 1, random.NextDouble())))),
        ];
    }

    [Fact]
    public void Bands_of_a_known_spread_are_the_quantiles_of_the_law()
    {
        var bands = LawBands.Of(ErrorLaw.Normal, Rows((mean, _) => mean), new LawSpread(2))!;
        Assert.False(bands.IsGuess);
        for (var k = 0; k < bands.Means.Count; k++)
        {
            // Sixty halvings of some twenty.
            Assert.Equal(bands.Means[k] - 2 * 1.6448536269514722, bands.Low[k], 1e-9);
            Assert.Equal(bands.Means[k] + 2 * 1.6448536269514722, bands.High[k], 1e-9);
        }
        var counts = LawBands.Of(ErrorLaw.Poisson, [new(1, 1, 4), new(2, 2, 30)], null)!;
        Assert.False(counts.IsGuess);
        var law = new Poisson(30);
        Assert.True(law.CumulativeDistribution(counts.High[^1]) >= 0.95 && law.CumulativeDistribution(counts.High[^1] - 1) < 0.95);
    }

    [Fact]
    public void Rows_tell_against_their_neighbours_how_they_spread()
    {
        // Four hundred rows tell a deviation to one in twenty-eight, and neighbours that share rows to a little less: four of that.
        Assert.Equal(2, LawBands.Of(ErrorLaw.Normal, Rows((mean, z) => mean + 2 * z), null)!.Spread.Main, 2 * 4 * 0.045);
        Assert.Equal(0.1, LawBands.Of(ErrorLaw.Proportional, Rows((mean, z) => mean * (1 + 0.1 * z)), null)!.Spread.Main, 0.1 * 4 * 0.045);
        Assert.Equal(0.2, LawBands.Of(ErrorLaw.LogNormal, Rows((mean, z) => mean * Math.Exp(0.2 * z)), null)!.Spread.Main, 0.2 * 4 * 0.045);
        // Of a long series a few stretches are looked at.
        Assert.Equal(2, LawBands.Of(ErrorLaw.Normal, Rows((mean, z) => mean + 2 * z, 5000), null)!.Spread.Main, 2 * 4 * 0.045);
    }

    [Fact]
    public void What_cannot_be_of_a_law_or_is_too_little_has_none()
    {
        Assert.Null(LawBands.Of(ErrorLaw.LogNormal, [new(1, 1, 0), new(2, 2, 3)], null));
        Assert.Contains("above zero", LawBands.Refusal(ErrorLaw.LogNormal, [new(1, 1, 0)]));
        Assert.Null(LawBands.Of(ErrorLaw.Normal, [new(1, 1, 3), new(2, 2, 4)], null));
        Assert.Null(LawBands.Of(ErrorLaw.Poisson, [], null));
        // One value alone is shown from half of it to one and a half.
        var one = LawBands.Of(ErrorLaw.Poisson, [new(1, 1, 8)], null)!;
        Assert.Equal((4, 12), (one.Means[0], one.Means[^1]));
    }
}
