using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Inference;

/// <summary>The parametric bootstrap against the law of a mean, and residuals against what they would be.</summary>
public class BootstrapTests
{
    private static FitResult Fit(int sets, ErrorLaw law, IReadOnlyList<DataRow> rows)
    {
        var document = Studies.Of("A(0) = 0; -> A : m; m = 4", 60);
        var data = new DataSet("d", "levels", rows);
        var seen = new Observation("o", "d", "Level", "", "1")
        {
            Seen = ObservedAs.Standing,
            Formula = "m",
            Law = law,
        };
        return Fitter.Run(
            document with
            {
                Observations = [seen],
                Fit = new(ErrorLaw.Poisson, [new("m", -100, 100)]) { Starts = 2, Bootstrap = sets },
            },
            [new(seen, data)]
        );
    }

    [Fact]
    public void Sets_of_a_mean_spread_as_the_mean_does()
    {
        // 25 rows with a standard error of 0.5: their mean is normal with 0.1.
        DataRow[] rows = [.. Enumerable.Range(1, 25).Select(t => new DataRow(t, t, 5 + 0.3 * Math.Sin(t)) { Error = 0.5 })];
        var fit = Fit(1000, ErrorLaw.Normal, rows);
        var (mean, found) = (rows.Average(row => row.Value), fit.Detail!.Bootstrap!);
        Assert.Equal((1000, 0), (found.Count, found.Failed));
        // The 2.5% quantile of a thousand is known to √(0.025 × 0.975 / 1000) / φ(1.96) = 0.085 deviations; four and a half times that.
        Assert.Equal(mean - 0.196, found.Low[0], 0.038);
        Assert.Equal(mean + 0.196, found.High[0], 0.038);
        Assert.Equal(0, found.Bias[0], 4.5 * 0.1 / Math.Sqrt(1000));
        // Each set depends on its number alone.
        Assert.Equal(found.Low[0], Fit(1000, ErrorLaw.Normal, rows).Detail!.Bootstrap!.Low[0]);
        Assert.Null(Fit(0, ErrorLaw.Normal, rows).Detail!.Bootstrap);
    }

    [Fact]
    public void Rows_below_a_limit_are_drawn_too()
    {
        DataRow[] rows =
        [
            .. Enumerable.Range(1, 20).Select(t => new DataRow(t, t, t % 3 == 0 ? 4 : 5 + 0.2 * (t % 5)) { Error = 1, Below = t % 3 == 0 }),
        ];
        var found = Fit(200, ErrorLaw.Normal, rows).Detail!.Bootstrap!;
        Assert.Equal(200, found.Count);
        Assert.True(found.Low[0] < found.High[0]);
    }

    [Fact]
    public void Residuals_in_order_stand_beside_those_of_a_normal_law()
    {
        var pairs = ResidualChecks.Quantiles([3, -1, double.NaN, 0.5]);
        Assert.Equal([-1, 0.5, 3], pairs.Select(pair => pair.Found));
        // Blom's places of three: 0.625 / 3.25 = 0.19231, whose normal quantile is −0.86942.
        Assert.Equal(-0.86942, pairs[0].Expected, 5e-5);
        Assert.Equal(0, pairs[1].Expected, 1e-12);
    }

    [Fact]
    public void Residuals_that_turn_each_time_go_against_those_before_them()
    {
        var lags = ResidualChecks.Autocorrelation([1, -1, 1, -1, 1, -1, 1, -1]);
        // Seven products of −1 over eight squares, then six of 1.
        Assert.Equal([-7.0 / 8, 6.0 / 8], lags);
        Assert.Empty(ResidualChecks.Autocorrelation([0, 0, 0, 0]));
    }
}
