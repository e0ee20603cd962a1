using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Model;

/// <summary>Named laws of response curves against their closed forms, and dragging them by their handles.</summary>
public class CurveLawTests
{
    private static CurveLawValues Law(CurveLaw law, double low, double high, double half, double slope) =>
        new(law, low, high, half, slope, double.NegativeInfinity, double.PositiveInfinity);

    public static TheoryData<CurveLaw, double, double, double, double> Laws =>
        new()
        {
            { CurveLaw.Linear, 2, 0, 0, 0.5 },
            { CurveLaw.Linear, 2, 0, 0, -0.25 },
            { CurveLaw.Exponential, 3, 0, 0, -0.7 },
            { CurveLaw.Exponential, 0.5, 0, 0, 0.2 },
            { CurveLaw.Hill, 1, 0, 0.5, 4 },
            { CurveLaw.Hill, 0, 12, 3, 1 },
            { CurveLaw.Logistic, 0, 1, 10, 0.8 },
            { CurveLaw.Logistic, 0, 1, 10, -0.8 },
        };

    private static double Closed(CurveLaw law, double low, double high, double half, double slope, double x) =>
        law switch
        {
            CurveLaw.Linear => low + slope * x,
            CurveLaw.Exponential => low * Math.Exp(slope * x),
            CurveLaw.Hill => low + (high - low) * Math.Pow(x, slope) / (Math.Pow(half, slope) + Math.Pow(x, slope)),
            _ => low + (high - low) / (1 + Math.Exp(-slope * (x - half))),
        };

    [Theory]
    [MemberData(nameof(Laws))]
    public void A_law_gives_its_closed_form(CurveLaw law, double low, double high, double half, double slope)
    {
        foreach (var x in new[] { 0.01, 0.5, 1, 3, 10, 25 })
        {
            var expected = Closed(law, low, high, half, slope, x);
            // The two write the same formula differently: some roundings lie between them.
            Assert.Equal(expected, Law(law, low, high, half, slope).At(x), 1e-13 * (1 + Math.Abs(expected)));
        }
    }

    [Theory]
    [MemberData(nameof(Laws))]
    public void A_handle_stands_on_the_curve_and_means_the_number_it_has(CurveLaw law, double low, double high, double half, double slope)
    {
        var values = Law(law, low, high, half, slope);
        foreach (var handle in values.Handles())
        {
            var expected = handle.Field switch
            {
                PartField.Low => low,
                PartField.Half => half,
                _ => slope,
            };
            Assert.Equal(values.At(handle.X), handle.Y);
            // A logarithm and its power, taken back.
            Assert.Equal(expected, values.Dragged(handle.Field, handle.X, handle.Y), 1e-12 * (1 + Math.Abs(expected)));
        }
    }

    [Fact]
    public void A_hill_curve_begins_at_its_low_value_and_ends_at_its_high_one()
    {
        var hill = Law(CurveLaw.Hill, 1, 0, 0.5, 4);
        Assert.Equal(1, hill.At(0));
        Assert.Equal(0.5, hill.At(0.5), 1e-15);
        Assert.Equal(0, hill.At(1e200));
    }

    [Fact]
    public void A_logistic_curve_far_out_is_its_end_and_not_no_number()
    {
        var logistic = Law(CurveLaw.Logistic, 2, 7, 10, 50);
        Assert.Equal((2.0, 7.0), (logistic.At(-1e6), logistic.At(1e6)));
    }

    [Fact]
    public void Outside_its_range_a_curve_is_held()
    {
        var line = new CurveLawValues(CurveLaw.Linear, 1, 0, 0, 2, 0, 3);
        Assert.Equal((1.0, 7.0), (line.At(-5), line.At(30)));
        Assert.Equal((0.0, 3.0), line.Window());
    }

    private static ResponseCurve Drawn(params (double X, double Y)[] points) =>
        new("r1", "f", "", CurveLaw.Points, [.. points.Select(point => new CurvePoint(point.X, point.Y))]);

    [Theory]
    [InlineData(CurveLaw.Linear)]
    [InlineData(CurveLaw.Exponential)]
    public void A_curve_of_points_that_becomes_a_law_of_two_numbers_keeps_its_ends(CurveLaw law)
    {
        var made = CurveLaws.Change(Drawn((0, 4), (2, 3), (8, 1)), law);
        var values = Law(law, double.Parse(made.Low), 0, 0, double.Parse(made.Slope));
        // Numbers are typed with six digits behind the point.
        Assert.Equal(4, values.At(0), 1e-5);
        Assert.Equal(1, values.At(8), 1e-4);
    }

    [Fact]
    public void Changing_to_points_and_back_keeps_both()
    {
        var drawn = Drawn((0, 1), (1, 0.2));
        var hill = CurveLaws.Change(drawn, CurveLaw.Hill);
        Assert.Equal(("1", "0.2", "0.5", "4"), (hill.Low, hill.High, hill.Half, hill.Slope));
        var back = CurveLaws.Change(hill, CurveLaw.Points);
        Assert.Equal(drawn.Points.AsEnumerable(), back.Points.AsEnumerable());
        Assert.Same(drawn, CurveLaws.Change(drawn, CurveLaw.Points));
        Assert.Equal(2, CurveLaws.Change(hill with { Points = [] }, CurveLaw.Points).Points.Length);
    }
}
