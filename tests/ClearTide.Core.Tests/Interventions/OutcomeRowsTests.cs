using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Interventions;

/// <summary>Formulas over runs without chance, against closed forms.</summary>
public class OutcomeRowsTests
{
    private const double K = 0.3,
        End = 12;

    /// <summary>The usual relative tolerance of a step is 1e-8; a hundred steps may add up.</summary>
    private const double Near = 1e-6;

    private static StudyDocument Decay(params string[] rows) =>
        Studies.With(Studies.Of("A(0) = 80; B(0) = 0; k = 0.3; A -> B at k", End), new SetOutcomeRows(string.Join('\n', rows)));

    private static IReadOnlyList<double> Baseline(StudyDocument study, double now = double.NegativeInfinity) =>
        ScenarioRuns.Of(Lowering.Lower(study), study.Compartments[0].Id, now, new Dictionary<ValueAddress, double>()).Curves[0].Rows;

    private static double A(double t) => 80 * Math.Exp(-K * t);

    [Theory]
    [InlineData("peak(A)", 80)]
    [InlineData("peak_time(B)", End)]
    [InlineData("start(A) - lowest(A)", 80 - 2.1858977799)]
    [InlineData("end(A)", 2.1858977799)]
    [InlineData("total(A)", (80 - 2.1858977799) / K)]
    [InlineData("mean(A)", (80 - 2.1858977799) / K / End)]
    [InlineData("total(flow(A, B))", 80 - 2.1858977799)]
    [InlineData("first_time(A < 40)", 2.3104906019)]
    [InlineData("duration(A < 40)", End - 2.3104906019)]
    [InlineData("duration(A < 40 and B < 60)", 4.6209812037 - 2.3104906019)]
    [InlineData("value(A, 4)", 24.0955369529)]
    [InlineData("value(B, first_time(A < 40))", 40)]
    [InlineData("ever(A < 2)", 0)]
    [InlineData("ever(A < 3) and peak(B) > 77", 1)]
    [InlineData("always(A + B > 79)", 1)]
    [InlineData("peak_time(A * B)", 2.3104906019)]
    [InlineData("peak(A * B)", 1600)]
    public void Rows_of_a_decay_are_those_of_its_closed_form(string row, double expected) =>
        Assert.Equal(expected, Assert.Single(Baseline(Decay(row))), Near * Math.Max(1, Math.Abs(expected)));

    [Fact]
    public void What_never_comes_is_no_number() => Assert.Equal(double.NaN, Assert.Single(Baseline(Decay("first_time(A > 90)"))));

    [Fact]
    public void What_lies_before_the_future_does_not_count()
    {
        var found = Baseline(Decay("peak(A)", "total(A)", "first_time(A < 40)", "duration(A < 40)"), now: 5);
        Assert.Equal(A(5), found[0], Near * 80);
        Assert.Equal((A(5) - A(End)) / K, found[1], Near * 80);
        Assert.Equal(5, found[2], Near);
        Assert.Equal(7, found[3], Near);
    }

    [Fact]
    public void A_jump_counts_on_both_of_its_sides()
    {
        var study = Studies.With(
            Decay("peak(B)", "value(A, 5)", "first_time(B > 70)", "total(flow(A, B))"),
            new AddLines("at 5: A -> B : 10")
        );
        var found = Baseline(study);
        var left = A(5) - 10;
        var atEnd = left * Math.Exp(-K * (End - 5));
        Assert.Equal(80 - atEnd, found[0], Near * 80);
        Assert.Equal(left, found[1], Near * 80);
        Assert.Equal(5, found[2], Near);
        // The jump is no part of the flow.
        Assert.Equal(80 - 10 - atEnd, found[3], Near * 80);
    }

    [Fact]
    public void Each_scenario_has_rows_of_its_own_also_where_rules_change_its_model()
    {
        var study = Studies.With(Decay("end(A)", "duration(B > 40)"), new AddMeasureLine("", "k x 2, days 0 to 12"));
        study = Studies.With(study, new AddMeasureLine("", "at 6: B -> A : 30"));
        var runs = ScenarioRuns.Of(
            Lowering.Lower(study),
            study.Compartments[0].Id,
            double.NegativeInfinity,
            new Dictionary<ValueAddress, double>()
        );
        Assert.Equal(80 * Math.Exp(-2 * K * End), runs.Curves[1].Rows[0], Near * 80);
        Assert.Equal(End - Math.Log(2) / (2 * K), runs.Curves[1].Rows[1], Near * End);
        Assert.Equal((A(6) + 30) * Math.Exp(-K * 6), runs.Curves[2].Rows[0], Near * 80);
        // Above 40 from ln 2 / k to the dose back, and again when A has fallen to 40.
        var again = 6 + Math.Log((A(6) + 30) / 40) / K;
        Assert.Equal(6 - Math.Log(2) / K + End - again, runs.Curves[2].Rows[1], Near * End);
    }

    [Fact]
    public void In_discrete_steps_a_flow_is_summed_over_steps()
    {
        var study = Studies.With(
            Studies.Of("A(0) = 80; B(0) = 0; k = 0.3; A -> B at k", End),
            new SetSolver(Core.Simulation.Method.Discrete, 1, 1e-8)
        );
        study = Studies.With(study, new SetOutcomeRows("total(flow(A, B))\nend(B)"));
        var found = Baseline(study);
        // The law is 80 (1 - 0.7^12), to rounding.
        Assert.Equal(80 * (1 - Math.Pow(0.7, 12)), found[1], 1e-9);
        Assert.Equal(found[1], found[0], 1e-9);
    }

    [Theory]
    [InlineData("peak(Z)", "There is no “Z” in the model")]
    [InlineData("A", "changes along a run")]
    [InlineData("peak(A", "too early")]
    public void What_cannot_be_answered_is_refused_with_its_line(string row, string why)
    {
        var refused = new SetOutcomeRows(row).Apply(Decay()).Refusal;
        Assert.StartsWith(row + ": ", refused);
        Assert.Contains(why, refused);
    }

    [Fact]
    public void There_are_six_at_most() =>
        Assert.Contains(
            "at most 6",
            new SetOutcomeRows(string.Join('\n', Enumerable.Range(1, 7).Select(k => $"value(A, {k})"))).Apply(Decay()).Refusal
        );

    [Fact]
    public void Rows_follow_a_renamed_part_and_say_when_it_is_gone()
    {
        var study = Decay("peak(B)", "total(flow(A, B))");
        study = Studies.With(study, new SetField(study.CompartmentBySymbol("B")!.Id, PartField.Symbol, "Gone"));
        Assert.Equal(["peak(Gone)", "total(flow(A, Gone))"], study.OutcomeRows);
        study = Studies.With(study, new RemoveParts(study.CompartmentBySymbol("Gone")!.Id));
        var rows = OutcomeRow.Of(Lowering.Lower(study));
        Assert.All(rows, row => Assert.NotNull(row.Problem));
        Assert.Empty(Baseline(study));
    }
}
