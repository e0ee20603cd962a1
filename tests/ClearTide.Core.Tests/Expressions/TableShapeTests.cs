using System.Collections.Immutable;
using ClearTide.Core.Expressions;
using CsCheck;

namespace ClearTide.Core.Tests.Expressions;

/// <summary>What holds for tables of every kind, over points that nobody has chosen.</summary>
public class TableShapeTests
{
    private static readonly Gen<ImmutableArray<CurvePoint>> Points = Gen.Double[-50, 50]
        .List[2, 12]
        .Select(Gen.Double[0.1, 9].List[12], (values, gaps) =>
        {
            var x = 0.0;
            return values.Select((y, k) => new CurvePoint(x += gaps[k], y)).ToImmutableArray();
        });

    [Fact]
    public void Smooth_tables_stay_between_their_points_and_pass_through_each() =>
        Points.Sample(
            points =>
            {
                var table = new TableFunction(points, Between.Smooth);
                for (var k = 0; k + 1 < points.Length; k++)
                {
                    var (low, high) = (Math.Min(points[k].Y, points[k + 1].Y), Math.Max(points[k].Y, points[k + 1].Y));
                    // Rounding of a cubic of values up to 50.
                    Assert.Equal(points[k].Y, table.At(points[k].X), 1e-11);
                    for (var part = 1; part < 8; part++)
                        Assert.InRange(table.At(points[k].X + part * (points[k + 1].X - points[k].X) / 8), low - 1e-11, high + 1e-11);
                }
            },
            seed: "0000000000001",
            iter: 300
        );

    [Theory]
    [InlineData(Between.Line)]
    [InlineData(Between.Smooth)]
    public void The_slope_is_what_differences_say(Between between) =>
        Points.Sample(
            points =>
            {
                var table = new TableFunction(points, between, Beyond.Trend, Beyond.Trend);
                var (first, last) = (points[0].X - 3, points[^1].X + 3);
                for (var k = 1; k < 20; k++)
                {
                    var x = first + k * (last - first) / 20 + 0.0123;
                    if (points.Any(point => Math.Abs(point.X - x) < 1e-3))
                        continue;
                    const double h = 1e-5;
                    // A central difference of a cubic errs by h² times its third derivative, which the slopes of 500 bound.
                    Assert.Equal((table.At(x + h) - table.At(x - h)) / (2 * h), table.Slope(x), 1e-3 * (1 + Math.Abs(table.Slope(x))));
                }
            },
            seed: "0000000000002",
            iter: 200
        );

    [Theory]
    [InlineData(Between.Line)]
    [InlineData(Between.Step)]
    [InlineData(Between.Smooth)]
    public void What_repeats_is_the_same_a_period_later_and_earlier(Between between) =>
        Points.Sample(
            points =>
            {
                var table = new TableFunction(points, between, Beyond.Repeat, Beyond.Repeat, points[^1].X - points[0].X + 2);
                for (var k = 0; k < 15; k++)
                {
                    var x = points[0].X + 0.37 + k * (table.Period - 0.5) / 15;
                    foreach (var turns in new[] { -2, -1, 1, 3 })
                        // Places lose a digit when periods are added; a step at that place would show more.
                        if (points.All(point => Math.Abs(point.X - x) > 1e-6))
                            Assert.Equal(table.At(x), table.At(x + turns * table.Period), 1e-7 * (1 + Math.Abs(table.At(x))));
                }
            },
            seed: "0000000000003",
            iter: 200
        );

    [Fact]
    public void Pieces_change_at_knots_and_nowhere_else() =>
        Points.Sample(
            points =>
            {
                var table = new TableFunction(points, Between.Line, Beyond.Repeat, Beyond.Repeat);
                var (from, until) = (points[0].X - table.Period, points[^1].X + table.Period);
                var knots = table.Knots(from, until).ToList();
                Assert.Equal(knots.Order(), knots);
                for (var k = 1; k < knots.Count; k++)
                {
                    // A period that rounding parts from the span leaves two knots beside each other.
                    if (knots[k] - knots[k - 1] < 1e-9)
                        continue;
                    var middle = 0.5 * (knots[k - 1] + knots[k]);
                    Assert.Equal(table.Piece(middle), table.Piece(knots[k - 1] + 0.25 * (knots[k] - knots[k - 1])));
                    Assert.NotEqual(table.Piece(middle), table.Piece(knots[k] + 1e-6 * (1 + Math.Abs(knots[k]))));
                }
            },
            seed: "0000000000004",
            iter: 200
        );

    [Fact]
    public void A_table_needs_a_point_and_one_point_is_a_level()
    {
        Assert.Throws<ArgumentException>(() => new TableFunction([], Between.Line));
        foreach (var beyond in Enum.GetValues<Beyond>().Where(one => one != Beyond.Zero))
            Assert.Equal(7, new TableFunction([new(3, 7)], Between.Line, beyond, beyond).At(100));
    }
}
