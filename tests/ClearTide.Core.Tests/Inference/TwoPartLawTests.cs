using ClearTide.Core.Data;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Model;
using MathNet.Numerics.Distributions;
using MathNet.Numerics.Integration;

namespace ClearTide.Core.Tests.Inference;

/// <summary>The law with an additive and a proportional part: what makes it a law, its limits, and its most likely numbers.</summary>
public class TwoPartLawTests
{
    private static readonly SpreadLaw Law = SpreadLaw.Of(ErrorLaw.AdditiveProportional);

    private static DataRow Row(double value, double? error = null) => new(1, 1, value) { Error = error };

    [Theory]
    [InlineData(12, 0.1, 0.5)]
    [InlineData(0, 0.3, 2)]
    [InlineData(400, 0.02, 3)]
    public void A_density_integrates_to_one_and_its_score_has_the_stated_information(double mean, double relative, double added)
    {
        var spread = new LawSpread(relative, added);
        var width = Math.Sqrt(added * added + relative * relative * mean * mean);
        double Mean(Func<double, double> of) =>
            GaussLegendreRule.Integrate(
                value => of(value) * Math.Exp(Law.Log(Row(value), mean, spread)),
                mean - 12 * width,
                mean + 12 * width,
                256
            );
        // The quadrature of 256 points is exact to rounding for what is smooth over 24 standard deviations.
        Assert.Equal(1, Mean(_ => 1), 1e-12);
        Assert.Equal(width * width, Mean(value => Math.Pow(value - mean, 2)), 1e-10 * width * width);
        var information = Law.Information(Row(0), mean, spread);
        Assert.Equal(information, Mean(value => Math.Pow(Law.Slope(Row(value), mean, spread), 2)), 1e-10 * information);
        foreach (var row in new[] { Row(mean + 0.7 * width), Row(mean - 0.4 * width) with { Below = true } })
        {
            var h = 1e-5 * width;
            var slope = (Law.Log(row, mean + h, spread) - Law.Log(row, mean - h, spread)) / (2 * h);
            // Central differences leave about ten digits.
            Assert.Equal(slope, Law.Slope(row, mean, spread), 1e-7 / width);
        }
        Assert.Equal(
            Math.Log(Normal.CDF(mean, width, mean - width)),
            Law.Log(Row(mean - width) with { Below = true }, mean, spread),
            1e-12
        );
    }

    [Fact]
    public void Each_part_alone_is_the_law_of_that_part()
    {
        var (normal, proportional) = (SpreadLaw.Of(ErrorLaw.Normal), SpreadLaw.Of(ErrorLaw.Proportional));
        foreach (var row in new[] { Row(7), Row(9.5) with { Below = true } })
        {
            Assert.Equal(normal.Log(row, 9, 1.5), Law.Log(row, 9, new(0, 1.5)), 1e-14);
            Assert.Equal(normal.Slope(row, 9, 1.5), Law.Slope(row, 9, new(0, 1.5)), 1e-14);
            Assert.Equal(proportional.Log(row, 9, 0.2), Law.Log(row, 9, new(0.2)), 1e-14);
            Assert.Equal(proportional.Slope(row, 9, 0.2), Law.Slope(row, 9, new(0.2)), 1e-14);
            Assert.Equal(proportional.Information(Row(7), 9, 0.2), Law.Information(Row(7), 9, new(0.2)), 1e-14);
        }
    }

    [Fact]
    public void Both_numbers_are_found_where_many_rows_tell_them()
    {
        var random = new Random(71);
        double[] means = [.. Enumerable.Range(0, 4000).Select(k => 0.1 * Math.Pow(1000, k % 40 / 39.0))];
        DataRow[] rows = [.. means.Select(mean => Row(Normal.InvCDF(mean, Math.Sqrt(0.25 + 0.01 * mean * mean), random.NextDouble())))];
        Assert.Equal(2, Law.Numbers(rows));
        var best = Law.BestSpread(rows, means);
        // About half of the rows tell each number, to one part in the root of twice their number; four of that.
        Assert.Equal(0.5, best.Added, 4 * 0.5 / Math.Sqrt(4000));
        Assert.Equal(0.1, best.Main, 4 * 0.1 / Math.Sqrt(4000));
        double Height(double main, double added) => rows.Zip(means, (row, mean) => Law.Log(row, mean, new(main, added))).Sum();
        var top = Height(best.Main, best.Added);
        foreach (var (main, added) in new[] { (1.002, 1.0), (0.998, 1.0), (1.0, 1.002), (1.0, 0.998), (1.002, 0.998), (0.998, 1.002) })
            Assert.True(Height(best.Main * main, best.Added * added) < top);
    }

    [Fact]
    public void Rows_of_one_size_are_told_apart_by_neither_and_still_have_a_best_spread()
    {
        DataRow[] rows = [Row(9), Row(10), Row(11.5)];
        double[] means = [10, 10, 10];
        var best = Law.BestSpread(rows, means);
        // Whatever share each part has: the variance is the mean square of what is left.
        Assert.Equal((1 + 0 + 2.25) / 3, best.Added * best.Added + 100 * best.Main * best.Main, 1e-6);
    }

    [Fact]
    public void Known_errors_of_rows_are_the_additive_part()
    {
        DataRow[] rows = [Row(9, 0.5), Row(21, 0.5), Row(44, 0.5), Row(61, 0.5)];
        double[] means = [10, 20, 40, 65];
        Assert.Equal(1, Law.Numbers(rows));
        var best = Law.BestSpread(rows, means).Main;
        double Height(double c) => rows.Zip(means, (row, mean) => Law.Log(row, mean, new(c))).Sum();
        Assert.True(Height(best) > Height(1.001 * best) && Height(best) > Height(0.999 * best));
    }

    [Fact]
    public void Rows_below_a_limit_take_part()
    {
        DataRow[] rows = [Row(2) with { Below = true }, Row(2) with { Below = true }, Row(11), Row(18), Row(42), Row(85), Row(70)];
        double[] means = [1, 2.5, 10, 20, 40, 80, 75];
        var best = Law.BestSpread(rows, means);
        double Height(LawSpread spread) => rows.Zip(means, (row, mean) => Law.Log(row, mean, spread)).Sum();
        var top = Height(best);
        for (var main = 0.02; main < 0.5; main *= 1.3)
        for (var added = 0.01; added < 10; added *= 1.5)
            Assert.True(Height(new(main, added)) <= top + 1e-9);
    }
}
