using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Inference;

/// <summary>A row of weight w is the same as w rows.</summary>
public class WeightTests
{
    [Theory]
    [InlineData(ErrorLaw.Normal)]
    [InlineData(ErrorLaw.LogNormal)]
    [InlineData(ErrorLaw.Proportional)]
    [InlineData(ErrorLaw.AdditiveProportional)]
    [InlineData(ErrorLaw.Poisson)]
    [InlineData(ErrorLaw.NegativeBinomial)]
    [InlineData(ErrorLaw.Binomial)]
    public void Weights_are_rows_that_came_more_than_once(ErrorLaw law)
    {
        double[] values = law == ErrorLaw.Binomial ? [0.5, 0.25, 0.75, 0.25, 0] : [9, 4, 7, 3, 1];
        int[] weights = [1, 3, 2, 1, 2];
        DataRow One(int k) => new(k + 1, k + 1, values[k] == 0 && law != ErrorLaw.Binomial ? 1 : values[k]) { OutOf = 8 };
        var weighed = Fit(law, [.. weights.Select((weight, k) => One(k) with { GivenWeight = weight })]);
        var repeated = Fit(law, [.. weights.SelectMany((weight, k) => Enumerable.Repeat(One(k), weight))]);
        // Both climb to where a step gains nothing: the slope is flat to the root of rounding there.
        Assert.Equal(repeated.LogLikelihood, weighed.LogLikelihood, 1e-9);
        Assert.Equal(repeated.Estimates[0].Value, weighed.Estimates[0].Value, 1e-6 * repeated.Estimates[0].Value);
        Assert.Equal(repeated.Estimates[0].StandardError, weighed.Estimates[0].StandardError, 1e-5 * repeated.Estimates[0].StandardError);
        // The numbers of a law are looked for to seven digits.
        if (repeated.Spreads[0] is { } spread)
            Assert.Equal(spread.Main, weighed.Spreads[0]!.Value.Main, 1e-4 * spread.Main);
    }

    private static FitResult Fit(ErrorLaw law, IReadOnlyList<DataRow> rows)
    {
        var start = law == ErrorLaw.Binomial ? "0.6" : "8";
        var seen = new Observation("o", "d", "Level", "", "1")
        {
            Seen = ObservedAs.Standing,
            Formula = "m * exp(-k * t)",
            Law = law,
        };
        return Fitter.Run(
            Studies.Of($"m = {start}; k = 0.2 per day", 20) with
            {
                Fit = new(ErrorLaw.Poisson, [new("m", 0.01, law == ErrorLaw.Binomial ? 1 : 100), new("k", 0.01, 2)]) { Starts = 4 },
            },
            [new(seen, new("d", "levels", rows))]
        );
    }
}
