using ClearTide.Core.Analysis;
using ClearTide.Core.Data;

namespace ClearTide.Core.Tests.Analysis;

/// <summary>Exposure from levels alone: numbers worked out by hand, and exponentials, whose areas are known.</summary>
public class ObservedExposureTests
{
    private static DataRow[] Rows(params (double Time, double Level)[] points) =>
        [.. points.Select(point => new DataRow(point.Time, point.Time, point.Level))];

    [Fact]
    public void A_fall_by_an_exponential_has_its_half_life_and_its_areas_whatever_the_times()
    {
        // 10 exp(-0.2 t) from 0 on: the rule is exact for it. Rounding alone is left.
        var found = ObservedExposure.Of(Rows([.. new[] { 0.0, 1, 2.5, 7, 16 }.Select(t => (t, 10 * Math.Exp(-0.2 * t)))]))!;
        Assert.Equal((10, 0, 16), (found.Maximum, found.MaximumTime, found.LastTime));
        Assert.Equal(Math.Log(2) / 0.2, found.HalfLife, 1e-12);
        Assert.Equal(50 * (1 - Math.Exp(-3.2)), found.AreaToLast, 1e-12);
        Assert.Equal(50, found.AreaToInfinity, 1e-12);
        Assert.Equal((3, 1), (found.Points, Math.Round(found.Fit, 12)));
    }

    [Fact]
    public void Levels_rise_in_straight_lines_and_fall_as_exponentials()
    {
        var found = ObservedExposure.Of(Rows((0, 0), (1, 4), (2, 8), (4, 4), (6, 2), (8, 1)))!;
        // By hand: 2 + 6 while it rises; each halving of 2c over two hours is 2 c / ln 2: (8 + 4 + 2) / ln 2 in all.
        Assert.Equal(8 + 14 / Math.Log(2), found.AreaToLast, 1e-12);
        Assert.Equal(2, found.HalfLife, 1e-12);
        Assert.Equal(8 + 14 / Math.Log(2) + 2 / Math.Log(2), found.AreaToInfinity, 1e-12);
    }

    [Fact]
    public void What_is_below_a_limit_is_nothing_before_and_left_out_behind()
    {
        DataRow[] rows =
        [
            new(0, 0, 0.5) { Below = true },
            .. Rows((2, 8), (4, 4), (6, 2), (8, 1)),
            new(10, 10, 0.5) { Below = true },
            new(5, 5, 900) { LeftOut = true },
        ];
        var found = ObservedExposure.Of(rows)!;
        Assert.Equal((8, 8), (found.Maximum, found.LastTime));
        Assert.Equal(8 + 14 / Math.Log(2), found.AreaToLast, 1e-12);
        // One interval of it alone.
        Assert.Equal(4 / Math.Log(2), ObservedExposure.Of(rows, from: 4, until: 6)!.AreaToLast, 1e-12);
    }

    [Fact]
    public void What_does_not_fall_at_the_end_has_no_half_life_and_one_level_no_exposure()
    {
        var rising = ObservedExposure.Of(Rows((0, 9), (1, 2), (2, 3), (3, 4)))!;
        Assert.Equal((double.NaN, double.NaN, 0), (rising.HalfLife, rising.AreaToInfinity, rising.Points));
        Assert.Null(ObservedExposure.Of(Rows((1, 2))));
        Assert.Null(ObservedExposure.Of([new(0, 0, 1) { Below = true }, new(1, 1, 3)]));
    }
}
