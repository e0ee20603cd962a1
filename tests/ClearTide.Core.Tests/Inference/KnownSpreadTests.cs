using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Spreads of laws that are known from elsewhere, against closed forms.</summary>
public class KnownSpreadTests
{
    private static readonly double[] Values = [10, 14, 12, 9];

    private static Series Levels(ErrorLaw law, string spread) =>
        new(
            new("o", "d", "Level", "", "1")
            {
                Seen = ObservedAs.Standing,
                Formula = "y",
                Law = law,
                KnownSpread = spread,
            },
            new("d", "levels", [.. Values.Select((value, k) => new DataRow(k, k, value))])
        );

    private static readonly StudyDocument Study = Studies.Of("m = 20; y = m + 0 * t", 20) with
    {
        Fit = new(ErrorLaw.Poisson, [new("m", 1, 100)]) { Starts = 2 },
    };

    [Fact]
    public void A_mean_under_a_known_deviation()
    {
        var fit = Fitter.Run(Study, [Levels(ErrorLaw.Normal, "3")]);
        var mean = Values.Average();
        Assert.Equal(mean, fit.Estimates[0].Value, 1e-6);
        Assert.Equal(3 / Math.Sqrt(4), fit.Estimates[0].StandardError, 1e-6);
        Assert.Equal(Values.Sum(value => Normal.PDFLn(mean, 3, value)), fit.LogLikelihood, 1e-9);
        // One number is estimated, and none of the law's own.
        Assert.Equal(1, fit.Detail!.Free);
        Assert.Null(fit.Spreads[0]);
    }

    [Fact]
    public void A_median_under_a_known_deviation_of_the_logarithm()
    {
        var fit = Fitter.Run(Study, [Levels(ErrorLaw.LogNormal, "0.2")]);
        Assert.Equal(Math.Exp(Values.Average(value => Math.Log(value))), fit.Estimates[0].Value, 1e-6);
        Assert.Equal(0.2 / Math.Sqrt(4), fit.Estimates[0].StandardError / fit.Estimates[0].Value, 1e-6);
    }

    [Theory]
    [InlineData(ErrorLaw.Normal, "wide", "number above zero")]
    [InlineData(ErrorLaw.Normal, "-1", "number above zero")]
    [InlineData(ErrorLaw.Poisson, "2", "no spread of its own")]
    [InlineData(ErrorLaw.AdditiveProportional, "2", "two spreads")]
    public void What_cannot_be_a_known_spread_is_refused(ErrorLaw law, string spread, string words)
    {
        var one = Levels(law, spread).Observation;
        var known = Study with { Observations = [one with { KnownSpread = "" }] };
        Assert.Contains(words, new ChangeSeries(one, "spread").Apply(known).Refusal);
    }
}
