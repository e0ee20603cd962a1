using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Analysis;

/// <summary>What is made of the results of a run: formulas, budgets, readings, paths through a plane.</summary>
public class ResultsTests
{
    private static StudyRun Run(string lines, double end = 80) => StudyRun.Of(Studies.Of(lines, end));

    [Fact]
    public void Formulas_over_results_use_curves_flows_and_running_totals()
    {
        var run = Run("A(0) = 100; k = 0.1 per day; q = 2 * A; A -> B at k");
        var share = ResultFormula.Of(run, "share = B / (A + B)");
        Assert.Equal(("share", null), (share.Name, share.Problem));
        // Closed form 1 - e^(-k t); the run keeps to 1e-8.
        Assert.Equal(1 - Math.Exp(-8), share.Values[^1], 1e-7);
        var flow = ResultFormula.Of(run, "flow(A, B) / k");
        Assert.Equal(100 * Math.Exp(-8), flow.Values[^1], 1e-5);
        // What has flowed is what has arrived: cubic pieces of a third of a day leave six digits.
        var total = ResultFormula.Of(run, "total(flow(A, B)) - B");
        Assert.All(total.Values, value => Assert.Equal(0, value, 1e-4));
        Assert.Equal(2 * 100 * (1 - Math.Exp(-8)) / 0.1, ResultFormula.Of(run, "total(q)").Values[^1], 1e-2);
    }

    [Fact]
    public void A_flow_that_runs_member_by_member_is_the_sum_of_its_members_or_one_of_them()
    {
        var run = Run("group age = child, adult; A -> B at 0.1 per day; A(0) = 100; split all by age; A[child](0) = 30");
        double End(string text) => ResultFormula.Of(run, text).Values[^1];
        Assert.Equal(End("flow(A[child], B[child]) + flow(A[adult], B[adult])"), End("flow(A, B)"), 1e-12);
        Assert.Equal(0.1 * End("A[child]"), End("flow(A[child], B[child])"), 1e-9);
    }

    [Theory]
    [InlineData("", "Type a formula")]
    [InlineData("x = nothing + 1", "There is no “nothing”")]
    [InlineData("flow(B, A)", "no flow from B to A")]
    [InlineData("median(A)", "flow(S, E) and total(x)")]
    [InlineData("A + ", "")]
    [InlineData("A / (B - B)", "no value anywhere")]
    [InlineData("1 / B", "no value at 1 of")]
    public void Formulas_that_have_no_value_say_so(string text, string words)
    {
        var column = ResultFormula.Of(Run("A(0) = 100; A -> B at 0.1 per day"), text);
        Assert.NotNull(column.Problem);
        Assert.Contains(words, column.Problem);
        Assert.All(column.Values, value => Assert.False(double.IsInfinity(value)));
    }

    [Fact]
    public void A_budget_adds_up_to_the_slope_and_says_what_turned_the_curve()
    {
        var run = Run("S(0) = 990; I(0) = 10; D(0) = 0; R(0) = 0; S -> I : 0.4 * S * I / 1000; I -> R 98%, D the rest after 5 days");
        var budget = Budget.Of(run, run.Lowered.Document.CompartmentBySymbol("I")!.Id)!;
        Assert.Equal(2, budget.Terms.Count);
        var (times, amounts) = (run.Run!.Times, run.Run.AmountColumn(1));
        for (var row = 1; row + 1 < times.Count; row++)
        {
            if (times[row + 1] - times[row] != times[row] - times[row - 1])
                continue;
            // A central difference over rows of a third of a day departs by h²/6 of the third derivative.
            Assert.Equal(
                (amounts[row + 1] - amounts[row - 1]) / (times[row + 1] - times[row - 1]),
                budget.Terms.Sum(term => term.Values[row]),
                0.05
            );
        }
        var turn = Assert.Single(budget.Turns);
        Assert.Equal(times[Array.IndexOf(amounts, amounts.Max())], turn.Time, 0.5);
        Assert.StartsWith("Stops rising at day", turn.Words);
        var dead = Budget.Of(run, run.Lowered.Document.CompartmentBySymbol("D")!.Id)!;
        // The share of a fan-out that leads there.
        Assert.Equal(0.02 * amounts[^1] / 5, Assert.Single(dead.Terms).Values[^1], 1e-9 * amounts.Max());
    }

    [Fact]
    public void A_reading_says_peaks_rises_and_who_was_affected()
    {
        var study = Studies.Of("S(0) = 990; I(0) = 10; R(0) = 0; S -> I : 0.4 * S * I / 1000; I -> R after 5 days", 120);
        var lowered = Lowering.Lower(study);
        var report = RunReport.Of(lowered);
        string Of(string symbol) => Reading.Of(report.Curves.Single(curve => curve.Name == symbol), study, "people");
        Assert.StartsWith("I peaks at ", Of("I"));
        Assert.Contains("first doubles within", Of("I"));
        Assert.Contains("% of it has left by the end", Of("S"));
        Assert.StartsWith("R rises from 0 people to", Of("R"));
        // Of 200 at the peak a few hundredths are left: nothing that anybody would count.
        Assert.Contains("is almost 0 at the end", Of("I"));
        var still = Lowering.Lower(Studies.Of("A(0) = 7; A -> A2 : 0", 10));
        Assert.Equal("A stays at 7.", Reading.Of(RunReport.Of(still).Curves[0], still.Document, ""));
    }

    [Fact]
    public void Paths_close_and_lines_of_standstill_lie_where_they_should()
    {
        // Predator and prey: x' = x (1 - y / 20), y' = y (x / 50 - 1) scaled; x stands still at y = 20, y at x = 50, and V = x/50 - ln x
        // + y/20 - ln y stays.
        var lowered = Lowering.Lower(Studies.Of("X(0) = 30; Y(0) = 10; -> X : X; X -> : X * Y / 20; -> Y : Y * X / 50; Y -> : Y", 20));
        var (x, y) = (lowered.Document.CompartmentBySymbol("X")!.Id, lowered.Document.CompartmentBySymbol("Y")!.Id);
        var plane = PhasePlane.Of(lowered, x, y, [(80, 5), (20, 30)]);
        Assert.Equal(3, plane.Paths.Count);
        Assert.Equal((80, 5), (plane.Paths[1].X[0], plane.Paths[1].Y[0]));
        foreach (var path in plane.Paths)
        {
            double V(int k) => path.X[k] / 50 - Math.Log(path.X[k]) + path.Y[k] / 20 - Math.Log(path.Y[k]);
            for (var k = 0; k < path.X.Length; k++)
                Assert.Equal(V(0), V(k), 1e-5);
        }
        Assert.NotEmpty(plane.Still[0].X);
        // Straight lines are found exactly but for rounding.
        Assert.All(plane.Still[0].X, segment => Assert.Equal(20, segment.Y1, 1e-9));
        Assert.All(plane.Still[0].Y, segment => Assert.Equal(50, segment.X1, 1e-9));
    }

    [Fact]
    public void A_varied_value_moves_paths_and_lines_of_standstill()
    {
        var lowered = Lowering.Lower(
            Studies.Of("c = 20; X(0) = 30; Y(0) = 10; -> X : X; X -> : X * Y / c; -> Y : Y * X / 50; Y -> : Y", 20)
        );
        var (x, y) = (lowered.Document.CompartmentBySymbol("X")!.Id, lowered.Document.CompartmentBySymbol("Y")!.Id);
        var plane = PhasePlane.Of(lowered, x, y, [(80, 5)], default, "c", [10, 20, 40]);
        Assert.Equal([(10.0, 0), (10, 1), (20, 0), (20, 1), (40, 0), (40, 1)], plane.Paths.Select(path => (path.Value!.Value, path.Start)));
        // X stands still at Y = c.
        Assert.All(plane.Still, still => Assert.All(still.X, segment => Assert.Equal(still.Value!.Value, segment.Y1, 1e-9)));
        Assert.Throws<ArgumentException>(() => PhasePlane.Of(lowered, x, y, [], default, "gone", [1]));
        Assert.Throws<ArgumentException>(() =>
            PhasePlane.Of(lowered, x, y, [], default, "c", [.. Enumerable.Range(1, PhasePlane.MostValues + 1).Select(k => (double)k)])
        );
    }

    [Fact]
    public void A_reaction_has_its_place_in_budgets()
    {
        var run = Run("reaction r: A + 2 B -> C : 0.01 * A * B; A(0) = 9; B(0) = 20");
        var budget = Budget.Of(run, run.Lowered.Document.CompartmentBySymbol("B")!.Id)!;
        Assert.Equal(-2 * 0.01 * 9 * 20, Assert.Single(budget.Terms).Values[0], 1e-12);
    }

    [Fact]
    public void Bands_lie_between_order_statistics()
    {
        // Eleven straight lines k t, k = 0 … 10: quantiles are the lines themselves, and 0.25 lies half way between the third and the
        // fourth.
        var bands = FamilyBands.Of([.. Enumerable.Range(0, 11).Select(k => new double[] { 0, k, double.NaN })]);
        Assert.Equal([0, 1, 2.5, 5, 7.5, 9, 10], bands.Lines.Select(line => line[1]));
        Assert.All(bands.Lines, line => Assert.True(line[0] == 0 && double.IsNaN(line[2])));
        Assert.Empty(FamilyBands.Of([]).Lines[0]);
    }

    [Fact]
    public void The_same_model_with_other_values_runs_as_if_it_had_them()
    {
        const string lines =
            "S(0) = 990 people; I(0) = 10; beta = 0.4 per day; S -> I : beta * S * I / (S + I + R); I -> R after 5 days; q = 2 * beta";
        var basis = Run(lines);
        var moved = basis.With(
            new Dictionary<ValueAddress, double>
            {
                ["beta"] = 0.3,
                ["I.stay"] = 7,
                ["S.start"] = 800,
            }
        );
        var typed = Run(lines.Replace("0.4 per day", "0.3 per day").Replace("5 days", "7 days").Replace("990", "800"));
        for (var k = 0; k < 3; k++)
            Assert.Equal(typed.Run!.AmountColumn(k), moved.Run!.AmountColumn(k));
        Assert.Equal(0.6, moved.Run!.QuantityColumn(0)[0]);
        Assert.Equal(0.3, moved.Lowered.Network.Values[moved.Lowered.Network.IndexOf("beta")].Value);
        // The model that it began from is as it was.
        Assert.Equal(0.4, basis.Lowered.Network.Values[basis.Lowered.Network.IndexOf("beta")].Value);
        Assert.Equal(basis.Run!.AmountColumn(1), basis.With(new Dictionary<ValueAddress, double>()).Run!.AmountColumn(1));
    }

    [Fact]
    public void A_tornado_has_the_widest_bar_first_and_marks_runs_that_fail()
    {
        var lowered = Lowering.Lower(Studies.Of("A(0) = 100; k = 0.1 per day; A -> at k", 10));
        var id = lowered.Document.Compartments[0].Id;
        var bars = Tornado.Of(
            new ValueRuns(lowered, ["A.start", "k"], new(id, OutcomeKind.Final)),
            [("A.start", 90, 110), ("k", 0.05, 0.2)]
        );
        Assert.Equal(["k", "A.start"], bars.Select(bar => bar.Address));
        Assert.Equal(100 * Math.Exp(-0.5), bars[0].AtLow, 1e-4);
        Assert.Equal(110 * Math.Exp(-1), bars[1].AtHigh, 1e-4);
    }
}
