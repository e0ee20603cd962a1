using System.Collections.Immutable;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Model;

/// <summary>What a table of points must be, and the period it repeats with.</summary>
public class PointTableTests
{
    private static ImmutableArray<CurvePoint> Points(params (double X, double Y)[] points) =>
        [.. points.Select(point => new CurvePoint(point.X, point.Y))];

    [Fact]
    public void A_table_that_ascends_is_one() => Assert.Null(PointTables.Problem(Points((-1, 3), (0, 0), (1e9, -2))));

    [Fact]
    public void What_is_no_table_is_told_with_what_to_do()
    {
        Assert.Contains("at least one point", PointTables.Problem([]));
        Assert.Contains("10 stands twice", PointTables.Problem(Points((0, 1), (10, 2), (10, 3))));
        Assert.Contains("2.5 comes after 7", PointTables.Problem(Points((7, 1), (2.5, 2))));
        Assert.Contains("Point 2 is not two numbers", PointTables.Problem(Points((0, 1), (1, double.NaN))));
        Assert.Contains("Point 1 is not two numbers", PointTables.Problem(Points((double.PositiveInfinity, 1))));
        var many = Enumerable.Range(0, Input.MostPoints + 1).Select(k => new CurvePoint(k, 0)).ToImmutableArray();
        Assert.Contains("Leave some out", PointTables.Problem(many));
        Assert.Null(PointTables.Problem(many[1..]));
    }

    [Theory]
    [InlineData("14", 14.0)]
    [InlineData("2 weeks", 14.0)]
    [InlineData("0", null)]
    [InlineData("-3 days", null)]
    [InlineData("k", null)]
    [InlineData("", null)]
    public void A_period_is_a_time_above_zero(string typed, double? days)
    {
        var document = Studies.Of("A(0) = 1");
        var input = new Input("i1", "f", "", Points((0, 1), (7, 2))) { Period = typed };
        Assert.Equal(days, InputTables.Period(input, document.UnitTable()));
        Assert.Equal(
            days ?? TableFunction.UsualPeriod(input.Points, input.Between),
            InputTables.PeriodInForce(input, document.UnitTable())
        );
    }

    [Fact]
    public void Parts_are_found_by_id_and_by_symbol_however_many_there_are()
    {
        foreach (var count in new[] { 0, 1, 6, 7, 200 })
        {
            var parts = Enumerable.Range(0, count).Select(k => new Definition($"v{k}", $"a{k}", "", "1")).ToImmutableArray();
            foreach (var k in Enumerable.Range(0, count))
            {
                Assert.Same(parts[k], PartIndex<Definition>.Find(parts, $"v{k}"));
                Assert.Same(parts[k], PartIndex<Definition>.FindSymbol(parts, $"a{k}"));
                Assert.Equal(k, PartIndex<Definition>.IndexOf(parts, $"v{k}"));
            }
            Assert.Null(PartIndex<Definition>.Find(parts, "v999"));
            Assert.Equal(-1, PartIndex<Definition>.IndexOf(parts, "v999"));
        }
    }

    [Theory]
    [InlineData(3)]
    [InlineData(30)]
    public void Of_parts_that_share_a_symbol_the_first_is_found(int count)
    {
        var parts = Enumerable.Range(0, count).Select(k => new Definition($"v{k}", "same", "", "1")).ToImmutableArray();
        Assert.Same(parts[0], PartIndex<Definition>.FindSymbol(parts, "same"));
    }

    [Fact]
    public void A_part_is_put_in_the_place_of_the_one_of_its_id_or_at_the_end()
    {
        ImmutableArray<Definition> parts = [new("v1", "a", "", "1"), new("v2", "b", "", "2")];
        Assert.Equal(["v1", "v2"], parts.Put(new("v1", "c", "", "3")).Select(part => part.Id));
        Assert.Equal("c", parts.Put(new("v1", "c", "", "3"))[0].Symbol);
        Assert.Equal(["v1", "v2", "v3"], parts.Put(new("v3", "c", "", "3")).Select(part => part.Id));
        Assert.True(parts == parts.Change("v9", part => part with { Symbol = "z" }));
        Assert.Equal("z", parts.Change("v2", part => part with { Symbol = "z" })[1].Symbol);
    }
}
