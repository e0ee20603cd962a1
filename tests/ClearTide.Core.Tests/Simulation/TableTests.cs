using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using CsCheck;

namespace ClearTide.Core.Tests.Simulation;

public class TableTests
{
    private static readonly ImmutableArray<CurvePoint> Rise = [new(0, 0), new(10, 5), new(20, 20)];

    [Theory]
    [InlineData(Between.Line, 5, 2.5)]
    [InlineData(Between.Line, 15, 12.5)]
    [InlineData(Between.Step, 9.999, 0)]
    [InlineData(Between.Step, 10, 5)]
    [InlineData(Between.Smooth, 10, 5)]
    public void Between_points_it_follows_its_rule(Between between, double x, double y) =>
        Assert.Equal(y, new TableFunction(Rise, between).At(x), 1e-12);

    [Theory]
    [InlineData(Beyond.Hold, -5, 0, 30, 20)]
    [InlineData(Beyond.Zero, -5, 0, 30, 0)]
    [InlineData(Beyond.Trend, -4, -2, 30, 35)]
    [InlineData(Beyond.Repeat, -5, 10, 30, 0)]
    public void Beyond_its_points_it_follows_its_rule(Beyond beyond, double before, double atBefore, double after, double atAfter)
    {
        var table = new TableFunction(Rise, Between.Line, beyond, beyond);
        Assert.Equal(atBefore, table.At(before), 1e-12);
        Assert.Equal(atAfter, table.At(after), 1e-12);
    }

    [Fact]
    public void Twelve_months_over_three_years_repeat_with_the_year()
    {
        var months = Enumerable.Range(0, 12).Select(month => new CurvePoint(month, month * month)).ToImmutableArray();
        var table = new TableFunction(months, Between.Step, Beyond.Hold, Beyond.Repeat, 12);
        for (var month = 0; month < 36; month++)
            Assert.Equal(month % 12 * (month % 12), table.At(month + 0.5));
        // Straight lines lead from the last month to the first of the next year.
        var lines = new TableFunction(months, Between.Line, Beyond.Hold, Beyond.Repeat, 12);
        Assert.Equal(60.5, lines.At(11.5), 1e-12);
        Assert.Equal(60.5, lines.At(23.5), 1e-12);
    }

    [Theory]
    [InlineData("0 1, 1 5, 2 2, 3 7", Between.Line, 4)]
    [InlineData("0 1, 1 5, 2 2, 3 7", Between.Step, 4)]
    [InlineData("10 1, 15 5", Between.Smooth, 10)]
    // Whoever ends with the first value has closed the circle; a step needs a stretch for it.
    [InlineData("0 1, 1 5, 2 2, 3 1", Between.Line, 3)]
    [InlineData("0 1, 1 5, 2 2, 3 1", Between.Step, 4)]
    [InlineData("0 1, 1 5, 5 2", Between.Line, 5)]
    [InlineData("7 1", Between.Line, 0)]
    public void Evenly_spaced_points_repeat_after_one_spacing_more_than_they_span(string points, Between between, double period)
    {
        var input = Studies.Of($"x = points {(points.Contains(',') ? points : points + ", 9 9")}").Inputs[0].Points;
        Assert.Equal(period, TableFunction.UsualPeriod(points.Contains(',') ? input : input[..1], between), 1e-12);
    }

    [Fact]
    public void Months_from_0_to_11_repeat_every_12_without_being_told()
    {
        var months = Enumerable
            .Range(0, 12)
            .Select(month => new CurvePoint(month, 10 + 5 * Math.Cos(2 * Math.PI * month / 12)))
            .ToImmutableArray();
        foreach (var between in new[] { Between.Step, Between.Line, Between.Smooth })
        {
            var table = new TableFunction(months, between, Beyond.Repeat, Beyond.Repeat);
            Assert.Equal(12, table.Period);
            for (var x = -30.3; x < 50; x += 0.7)
                Assert.Equal(table.At(x), table.At(x + 12), 1e-12);
            for (var month = 0; month < 12; month++)
                Assert.Equal(months[month].Y, table.At(month + 24), 1e-12);
            // The months are even about the turn of the year, and so is what lies between, but for steps.
            if (between != Between.Step)
                Assert.Equal(table.At(0.4), table.At(11.6), 1e-12);
        }
        // Nor has the smooth form a corner there.
        var smooth = new TableFunction(months, Between.Smooth, Beyond.Hold, Beyond.Repeat);
        foreach (var knot in new[] { 11.0, 12, 23, 24 })
            Assert.Equal(smooth.Slope(knot - 1e-9), smooth.Slope(knot + 1e-9), 1e-6);
        Assert.Equal((smooth.At(11.7 + 1e-6) - smooth.At(11.7 - 1e-6)) / 2e-6, smooth.Slope(11.7), 1e-6);
    }

    [Fact]
    public void A_smooth_table_rises_and_falls_only_where_its_points_do()
    {
        var values = Gen.Double[-10, 10].Array[2, 12];
        values.Sample(
            ys =>
            {
                var table = new TableFunction([.. ys.Select((y, k) => new CurvePoint(k, y))], Between.Smooth);
                for (var k = 0; k + 1 < ys.Length; k++)
                {
                    var (low, high) = (Math.Min(ys[k], ys[k + 1]), Math.Max(ys[k], ys[k + 1]));
                    var last = ys[k];
                    for (var s = 0.05; s <= 1.0001; s += 0.05)
                    {
                        var here = table.At(Math.Min(k + s, k + 1));
                        // Rounding of sums of numbers up to ten.
                        Assert.InRange(here, low - 1e-12, high + 1e-12);
                        Assert.True((here - last) * (ys[k + 1] - ys[k]) >= -1e-12);
                        last = here;
                    }
                }
            },
            iter: 300
        );
    }

    [Fact]
    public void Slopes_agree_with_differences()
    {
        foreach (var between in new[] { Between.Line, Between.Smooth })
        {
            var table = new TableFunction(Rise, between, Beyond.Trend, Beyond.Trend);
            foreach (var x in new[] { -3.0, 4, 9, 13, 26 })
            {
                // Truncation of a central difference on a cubic: the third derivative times the step squared.
                Assert.Equal((table.At(x + 1e-4) - table.At(x - 1e-4)) / 2e-4, table.Slope(x), 1e-6);
            }
        }
    }

    [Fact]
    public void Each_piece_agrees_with_the_table_on_its_own_ground()
    {
        var table = new TableFunction(Rise, Between.Line, Beyond.Trend, Beyond.Repeat, 30);
        for (var x = -12.0; x < 100; x += 0.37)
            Assert.Equal(table.At(x), table.AtPiece(x, table.Piece(x)), 1e-12);
    }

    [Fact]
    public void Knots_are_listed_through_repetitions()
    {
        var table = new TableFunction(Rise, Between.Line, Beyond.Hold, Beyond.Repeat, 30);
        Assert.Equal([10, 20, 30, 40, 50, 60], table.Knots(0, 65));
        Assert.Equal([0, 10, 20], new TableFunction(Rise, Between.Line).Knots(-5, 65));
    }

    [Theory]
    [InlineData("points 0 0, 10 5, 20 20", 30, 25 + 125 + 200)]
    [InlineData("points 0 0, 10 5, 20 20 step", 30, 50 + 200)]
    [InlineData("points 0 0, 10 5, 20 20 then zero", 30, 25 + 125)]
    [InlineData("points 0 0, 10 5, 20 20 step then repeat 20 days", 40, 100)]
    public void A_run_integrates_an_input_exactly(string points, double end, double total)
    {
        // Straight pieces between stops: rounding alone is left.
        var run = Runs.OfLines($"-> A : rain(t); rain = {points}", 0, end);
        Assert.Equal(total, run.Amount(1, 0), 1e-6);
    }

    [Fact]
    public void A_response_curve_of_an_amount_holds_outside_its_range_and_says_so()
    {
        var study = Studies.Of("-> N : growth(N); growth(x) = points 0 2, 10 2, 20 0; N(0) = 30", 10);
        var run = StudyRun.Of(study);
        Assert.Equal(30, run.Run!.Amount(run.Run.Times.Count - 1, 0), 1e-9);
        var note = Assert.Single(run.Notes);
        Assert.True(note.IsNote);
        Assert.Contains("outside its range", note.Message);
    }

    [Fact]
    public void A_response_curve_runs_as_its_pieces_solve()
    {
        // N' = 2 up to 10 at day 5, then N' = 2 - (N - 10)/5, which goes to 20 as 20 - 10 exp(-(t - 5)/5).
        var run = Runs.OfLines("-> N : growth(N); growth(x) = points 0 2, 10 2, 20 0", 0, 5, 15);
        Assert.Equal(10, run.Amount(1, 0), 1e-7);
        Assert.Equal(20 - 10 * Math.Exp(-2), run.Amount(2, 0), 1e-6);
    }

    [Theory]
    [InlineData("linear(3, -0.5)", 2, 2)]
    [InlineData("exponential(3, -0.5)", 2, 3 / Math.E)]
    [InlineData("hill(1, 0, 2, 4)", 2, 0.5)]
    [InlineData("hill(0, 8, 2, 1)", 6, 6)]
    [InlineData("hill(5, 8, 2, 3)", 0, 5)]
    [InlineData("logistic(0, 10, 4, 1)", 4, 5)]
    [InlineData("linear(3, 1) from 0 until 5", 9, 8)]
    public void Named_laws_give_their_formula(string law, double x, double y)
    {
        var run = Runs.OfLines($"A -> : 0 * A; f(x) = {law}; q = f(A); A(0) = {x}", 0, 1);
        Assert.Equal(y, run.QuantityColumn(0)[0], 1e-12);
    }

    [Fact]
    public void The_numbers_of_a_law_are_values_with_addresses()
    {
        var form = Lowering.Lower(Studies.Of("A -> : f(A); f(x) = hill(1, 0, 0.5, 4)")).Network;
        Assert.All(new[] { "f.low", "f.high", "f.half", "f.slope" }, address => Assert.True(form.IndexOf(address) >= 0));
    }
}
