using ClearTide.Core.Data;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Model;
using MathNet.Numerics.Integration;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Each law against what makes it one: it integrates to one, its score is its slope, its information the mean square of the
/// score.</summary>
public class SpreadLawTests
{
    private static DataRow Row(double value, double? error = null) => new(0, 1, value) { Error = error };

    public static TheoryData<ErrorLaw, double, double> Continuous() =>
        new()
        {
            { ErrorLaw.Normal, 12, 3 },
            { ErrorLaw.Normal, -4, 0.2 },
            { ErrorLaw.LogNormal, 5, 0.4 },
            { ErrorLaw.LogNormal, 0.02, 1 },
            { ErrorLaw.Proportional, 7, 0.15 },
            { ErrorLaw.Proportional, 300, 0.05 },
        };

    /// <summary>An integral over all values that matter: twelve standard deviations, on the scale on which the law is normal.</summary>
    private static double Expected(ErrorLaw law, double mean, double spread, Func<double, double> of)
    {
        var one = SpreadLaw.Of(law);
        var (centre, width) = law switch
        {
            ErrorLaw.LogNormal => (Math.Log(mean), spread),
            ErrorLaw.Proportional => (mean, spread * mean),
            _ => (mean, spread),
        };
        return GaussLegendreRule.Integrate(
            at =>
            {
                var value = law == ErrorLaw.LogNormal ? Math.Exp(at) : at;
                return of(value) * Math.Exp(one.Log(Row(value), mean, spread)) * (law == ErrorLaw.LogNormal ? value : 1);
            },
            centre - 12 * width,
            centre + 12 * width,
            256
        );
    }

    [Theory]
    [MemberData(nameof(Continuous))]
    public void A_density_integrates_to_one_and_its_score_has_the_stated_information(ErrorLaw law, double mean, double spread)
    {
        var one = SpreadLaw.Of(law);
        // The quadrature of 256 points is exact to rounding for what is smooth over 24 standard deviations.
        Assert.Equal(1, Expected(law, mean, spread, _ => 1), 1e-12);
        Assert.Equal(0, Expected(law, mean, spread, value => one.Slope(Row(value), mean, spread)) * mean, 1e-9);
        var information = Expected(law, mean, spread, value => Math.Pow(one.Slope(Row(value), mean, spread), 2));
        Assert.Equal(one.Information(Row(0), mean, spread), information, 1e-10 * information);
    }

    [Theory]
    [MemberData(nameof(Continuous))]
    public void The_score_is_the_slope_of_the_log_density(ErrorLaw law, double mean, double spread)
    {
        var one = SpreadLaw.Of(law);
        var row = Row(law == ErrorLaw.LogNormal ? mean * 1.3 : mean + 0.7 * spread);
        // Central differences: the cube root of rounding balances it against the curvature, which leaves about ten digits.
        var h = 1e-5 * Math.Abs(mean);
        var slope = (one.Log(row, mean + h, spread) - one.Log(row, mean - h, spread)) / (2 * h);
        Assert.Equal(slope, one.Slope(row, mean, spread), 1e-7 * Math.Max(1, Math.Abs(slope)));
    }

    [Theory]
    [MemberData(nameof(Continuous))]
    public void The_best_spread_is_higher_than_its_neighbours(ErrorLaw law, double mean, double spread)
    {
        var one = SpreadLaw.Of(law);
        double[] parts = [-1.7, -0.6, 0.1, 0.4, 1.5];
        var rows = parts
            .Select(part =>
                Row(
                    law switch
                    {
                        ErrorLaw.LogNormal => mean * Math.Exp(part * spread),
                        ErrorLaw.Proportional => mean * (1 + part * spread),
                        _ => mean + part * spread,
                    }
                )
            )
            .ToList();
        double[] means = [.. rows.Select(_ => mean)];
        var best = one.BestSpread(rows, means).Main;
        double At(double value) => rows.Sum(row => one.Log(row, mean, value));
        // Root mean square of the parts: (2.89 + 0.36 + 0.01 + 0.16 + 2.25) / 5 = 1.134.
        Assert.Equal(spread * Math.Sqrt(1.134), best, 1e-12 * spread);
        Assert.True(At(best) > At(1.001 * best) && At(best) > At(0.999 * best));
    }

    [Fact]
    public void A_row_with_an_error_of_its_own_leaves_no_spread_to_find()
    {
        var law = SpreadLaw.Of(ErrorLaw.Normal);
        Assert.False(law.HasSpread([Row(1, 2), Row(3, 0.5)]));
        Assert.True(law.HasSpread([Row(1, 2), Row(3)]));
        Assert.Equal(1 / 4.0, law.Information(Row(1, 2), 5, 77));
        // ln of the normal density at one standard deviation with a standard deviation of 2.
        Assert.Equal(-0.5 - Math.Log(2) - 0.5 * Math.Log(2 * Math.PI), law.Log(Row(3, 2), 5, 77), 1e-15);
        Assert.NotNull(law.Refusal(Row(1, 0)));
        Assert.NotNull(SpreadLaw.Of(ErrorLaw.LogNormal).Refusal(Row(0)));
        Assert.NotNull(SpreadLaw.Of(ErrorLaw.Poisson).Refusal(Row(-1)));
    }
}
