using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Interventions;

public class MeasureLineTests
{
    private static readonly StudyDocument Study = Studies.Of(
        "A(0) = 1000; A -> at k; k = 0.1 per day; -> A : births; births = 3; A -> B after 5 days; B(0) = 0",
        90
    );

    [Theory]
    [InlineData("k x 0.6, days 55 to 90", "k", MeasureKind.Scale, 0.6, 55, 90)]
    [InlineData("k × 0.6, days 55 to 90", "k", MeasureKind.Scale, 0.6, 55, 90)]
    [InlineData("k * 0.6, 55 to 90", "k", MeasureKind.Scale, 0.6, 55, 90)]
    [InlineData("k x 60%, days 55 until 90", "k", MeasureKind.Scale, 0.6, 55, 90)]
    [InlineData("k = 1.4 per week, day 30 on", "k", MeasureKind.Set, 0.2, 30, 90)]
    [InlineData("k = 1/5, from day 30 to 40", "k", MeasureKind.Set, 0.2, 30, 40)]
    [InlineData("births + 2, days 10 to 20", "births", MeasureKind.Shift, 2, 10, 20)]
    [InlineData("births - 2, days 10 to 20", "births", MeasureKind.Shift, -2, 10, 20)]
    [InlineData("births − 2; days 10 – 20", "births", MeasureKind.Shift, -2, 10, 20)]
    [InlineData("A.stay x 2, days 10 to 20 days", "A.stay", MeasureKind.Scale, 2, 10, 20)]
    [InlineData("  k x 0 ", "k", MeasureKind.Scale, 0, 0, 90)]
    public void A_measure_is_read_as_it_is_said(string text, string address, MeasureKind kind, double number, double from, double until)
    {
        var (line, problem) = MeasureLine.Read(text, Study);
        Assert.Null(problem);
        Assert.Equal(
            (ValueAddress.Read(address).ToString(), kind, from, until),
            (line!.Address.ToString(), line.Kind, line.From, line.Until)
        );
        // A week is seven days: the quotient may differ by its last bit.
        Assert.Equal(number, line.Number, 1e-15);
    }

    [Theory]
    [InlineData("", "A measure is a value")]
    [InlineData("k", "A measure is a value")]
    [InlineData("k x , days 1 to 2", "A measure is a value")]
    [InlineData("kappa x 0.6, days 5 to 9", "no value “kappa”")]
    [InlineData("k x half, days 5 to 9", "is no number")]
    [InlineData("k x births, days 5 to 9", "is no number")]
    [InlineData("k x 0.5, soon", "When?")]
    [InlineData("k x 0.5, days 5", "When?")]
    public void What_is_no_measure_is_refused_with_an_example(string text, string words)
    {
        var (line, problem) = MeasureLine.Read(text, Study);
        Assert.Null(line);
        Assert.Contains(words, problem);
    }

    [Fact]
    public void A_bare_number_is_in_the_unit_of_its_parameter_as_bounds_are()
    {
        var document = Studies.Of("A(0) = 10; A -> at k; k = 0.1");
        document = document.With(document.DefinitionBySymbol("k")! with { Unit = "1/week" });
        double Number(string text) => MeasureLine.Read(text, document).Line!.Number;
        Assert.Equal(0.2, Number("k = 1.4, days 1 to 2"), 1e-15);
        Assert.Equal(0.2, Number("k = 0.2 per day, days 1 to 2"), 1e-15);
        Assert.Equal(1.4, Number("k x 1.4, days 1 to 2"));
    }

    [Fact]
    public void A_line_without_end_is_refused_at_once()
    {
        foreach (var filling in new[] { " ", "1", "x", ",", "k x 1 " })
        {
            var (line, problem) = MeasureLine.Read("k x 1" + string.Concat(Enumerable.Repeat(filling, 300_000)) + "!", Study);
            Assert.Null(line);
            Assert.Contains("at most", problem);
        }
    }

    [Fact]
    public void The_example_can_be_typed_as_it_stands_and_what_is_said_can_be_typed_again()
    {
        foreach (var document in new[] { Study, Studies.Of(Studies.Latent, 200), Studies.Of("A(0) = 1; A -> after 3 days", 7) })
        {
            var made = new AddMeasureLine("", MeasureLine.Example(document)).Apply(document);
            Assert.True(made.Refusal is null, made.Refusal);
            var measure = made.Document!.Scenarios[0].Measures[0];
            Assert.True(measure.From >= document.Start && measure.Until <= document.End);
            var (again, problem) = MeasureLine.Read(MeasureLine.Of(measure, document.TimeUnit), document);
            Assert.Null(problem);
            Assert.Equal((measure.Address, measure.Kind, measure.Factor), (again!.Address, again.Kind, again.Number));
        }
    }

    [Fact]
    public void Typed_twice_it_makes_two_scenarios_of_different_names()
    {
        var once = new AddMeasureLine("", "k x 0.5, days 5 to 9").Apply(Study).Document!;
        var twice = new AddMeasureLine("", "k x 0.5, days 15 to 19").Apply(once).Document!;
        Assert.Equal(["k × 0.5", "k × 0.5 (2)"], twice.Scenarios.Select(scenario => scenario.Name));
        var more = new AddMeasureLine(once.Scenarios[0].Id, "births = 0, day 40 on").Apply(once).Document!;
        Assert.Equal(["k × 0.5", "births = 0"], Assert.Single(more.Scenarios).Measures.Select(measure => measure.Label));
    }

    [Fact]
    public void What_is_set_and_added_goes_with_the_unit_of_time_and_a_factor_stays()
    {
        var document = Study;
        foreach (var text in new[] { "k = 0.2, days 10 to 20", "k + 0.07, days 10 to 20", "k x 0.5, days 10 to 20" })
            document = new AddMeasureLine("", text).Apply(document).Document!;
        var weeks = new SetTimeUnit(TimeUnit.Week, true).Apply(document).Document!;
        var measures = weeks.Scenarios.Select(scenario => scenario.Measures[0]).ToList();
        Assert.Equal([1.4, 0.49, 0.5], measures.Select(measure => Math.Round(measure.Factor, 9)));
        Assert.All(measures, measure => Assert.Equal(10.0 / 7, measure.From, 1e-12));
    }
}

public class ScenarioRunTests
{
    private static StudyDocument With(StudyDocument study, params string[] lines) =>
        lines.Aggregate(study, (document, line) => new AddMeasureLine("", line).Apply(document).Document!);

    private static ScenarioRuns Compare(
        StudyDocument document,
        string symbol,
        double now = double.NegativeInfinity,
        params (string, double)[] estimates
    ) =>
        ScenarioRuns.Of(
            Lowering.Lower(document),
            document.CompartmentBySymbol(symbol)!.Id,
            now,
            estimates.ToDictionary(pair => new ValueAddress(pair.Item1), pair => pair.Item2)
        );

    [Fact]
    public void Each_scenario_is_the_closed_form_of_its_rate()
    {
        var document = With(
            Studies.Of("A(0) = 1000; A -> at k; k = 0.1", 30),
            "k x 0.5, days 10 to 20",
            "k = 0.3, days 10 to 20",
            "k + 0.1, days 10 to 20",
            "k - 0.1, day 10 on"
        );
        var runs = Compare(document, "A");
        Assert.Equal(["Baseline", "k × 0.5", "k = 0.3", "k + 0.1", "k − 0.1"], runs.Curves.Select(curve => curve.Name));
        // What the rate adds up to over thirty days.
        double[] sums = [3, 2.5, 5, 4, 1];
        for (var k = 0; k < sums.Length; k++)
        {
            // The study's tolerance is 1e-8 of each step.
            Assert.Equal(1000 * Math.Exp(-sums[k]), runs.Curves[k].Outcomes!.Final, 1e-5);
            Assert.Equal(runs.Curves[k].Outcomes!.Final, runs.Curves[k].Values[^1], 1e-9);
        }
    }

    [Fact]
    public void A_value_is_set_first_then_scaled_then_shifted_whatever_the_order_of_measures()
    {
        var document = new AddScenario("All").Apply(Studies.Of("A(0) = 0; -> A : v; v = 1", 10)).Document!;
        foreach (var line in new[] { "v + 3, days 0 to 10", "v x 2, days 0 to 10", "v = 5, days 0 to 10" })
            document = new AddMeasureLine(document.Scenarios[0].Id, line).Apply(document).Document!;
        // 5 · 2 + 3 a day over ten days.
        Assert.Equal(130, Compare(document, "A").Curves[1].Outcomes!.Final, 1e-6);
    }

    [Fact]
    public void Before_now_a_scenario_is_the_baseline_and_outcomes_begin_there()
    {
        var document = With(Studies.Of("A(0) = 1000; A -> at k; k = 0.1", 30), "k = 0, days 0 to 30");
        var runs = Compare(document, "A", now: 20);
        Assert.Equal(1000 * Math.Exp(-2), runs.Curves[1].Outcomes!.Final, 1e-5);
        // The greatest amount of the future is that of its beginning.
        Assert.Equal(1000 * Math.Exp(-2), runs.Curves[0].Outcomes!.Maximum, 1e-5);
        Assert.Equal(20, runs.Curves[0].Outcomes!.MaximumTime);
        Assert.Equal(10, runs.Curves[0].Outcomes!.Duration);
        var at = runs.Times.ToList().IndexOf(10);
        Assert.Equal(runs.Curves[0].Values[at], runs.Curves[1].Values[at], 1e-6);
    }

    [Fact]
    public void Estimates_are_laid_over_the_models_values_and_a_curve_that_is_gone_is_refused()
    {
        var document = Studies.Of("A(0) = 1000; A -> at k; k = 0.1", 30);
        Assert.Equal(1000 * Math.Exp(-6), Compare(document, "A", double.NegativeInfinity, ("k", 0.2)).Curves[0].Outcomes!.Final, 1e-5);
        Assert.Throws<ArgumentException>(() =>
            ScenarioRuns.Of(Lowering.Lower(document), "gone", 0, new Dictionary<ValueAddress, double>())
        );
    }

    [Fact]
    public void A_scenario_whose_run_fails_says_why_and_the_others_are_there()
    {
        var document = With(Studies.Of("A(0) = 1; -> A : g * A * A; g = 0.001", 30), "g = 10, days 5 to 30");
        var runs = Compare(document, "A");
        Assert.NotNull(runs.Curves[0].Outcomes);
        Assert.NotNull(runs.Curves[1].Failure);
        Assert.Null(runs.Curves[1].Outcomes);
    }
}
