using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using static ClearTide.Core.Tests.Interventions.PlannedStudy;

namespace ClearTide.Core.Tests.Interventions;

/// <summary>What a scenario does at times or on conditions, against closed forms of decay and against counts that are known.</summary>
public class ScenarioRuleTests
{
    private const string Decay = "A(0) = 100; A -> : k * A; k = 0.1 per day";

    /// <summary>Curves are made at the usual tolerance of 1e-8, and a moment of a condition is found to about as much.</summary>
    private const double Close = 1e-5;

    private static ScenarioCurve Plan(string rule, double now = double.NegativeInfinity) => Run(With(Decay, 10, rule), now).Plan;

    [Fact]
    public void An_amount_is_taken_at_a_time()
    {
        var plan = Plan("at 5: A -> : 20");
        Assert.Equal((100 * Math.Exp(-0.5) - 20) * Math.Exp(-0.5), plan.Values[^1], Close);
        Assert.Equal([5.0], plan.Acts.Select(act => act.Time));
    }

    [Fact]
    public void So_much_a_day_is_taken_over_a_window()
    {
        // A' = -kA - 4 from day 2 on for five days: A + 40 decays in that time.
        var document = With(Decay, 10, "at 2: A -> : 20 over 5 days");
        var plan = Run(document, double.NegativeInfinity).Plan;
        Assert.Equal([(2.0, 7.0)], ScenarioModel.Activity(document.Scenarios[0].Rules[0], plan.Acts, 10));
        var before = 100 * Math.Exp(-0.2);
        var after = (before + 40) * Math.Exp(-0.5) - 40;
        Assert.Equal(after * Math.Exp(-0.3), plan.Values[^1], Close);
    }

    [Theory]
    [InlineData(double.NegativeInfinity, new[] { 1.0, 3, 5, 7, 9 })]
    [InlineData(3.0, new[] { 3.0, 5, 7, 9 })]
    [InlineData(4.0, new[] { 5.0, 7, 9 })]
    public void What_is_repeated_begins_with_the_future(double now, double[] times)
    {
        var plan = Plan("every 2 from 1 until 9: A -> : 3", now);
        Assert.Equal(times, plan.Acts.Select(act => act.Time));
        Assert.Equal(100 * Math.Exp(-1) - times.Sum(time => 3 * Math.Exp(-0.1 * (10 - time))), plan.Values[^1], Close);
    }

    [Fact]
    public void What_lies_before_the_future_is_not_done()
    {
        var (baseline, plan, _) = Run(With(Decay, 10, "at 5: A -> : 20"), 6);
        Assert.Empty(plan.Acts);
        Assert.Equal(baseline.Values[^1], plan.Values[^1], Close);
    }

    [Theory]
    [InlineData(double.NegativeInfinity, 3.5667494393873245)] // ln(100/70) / 0.1
    [InlineData(2.0, 3.5667494393873245)]
    [InlineData(6.0, 6.0)]
    public void A_condition_that_holds_already_acts_when_the_future_begins(double now, double when)
    {
        var plan = Plan("when A < 70 once: A -> : 10", now);
        Assert.Equal(when, Assert.Single(plan.Acts).Time, Close);
        Assert.Equal((100 * Math.Exp(-0.1 * when) - 10) * Math.Exp(-0.1 * (10 - when)), plan.Values[^1], Close);
    }

    [Theory]
    [InlineData(double.NegativeInfinity, 6.931471805599453)] // 10 ln 2
    [InlineData(8.0, 8.0)]
    public void A_value_is_held_while_a_condition_is_true(double now, double since)
    {
        var plan = Plan("while A < 50: k = 0.3 per day", now);
        Assert.Equal(100 * Math.Exp(-0.1 * since - 0.3 * (10 - since)), plan.Values[^1], Close);
    }

    [Fact]
    public void A_value_is_held_at_a_share_of_what_it_is_otherwise()
    {
        var since = 10 * Math.Log(2);
        var document = With(Decay, 10, "while A < 50: k = 3 * k");
        var plan = Run(document, double.NegativeInfinity).Plan;
        Assert.Equal(100 * Math.Exp(-0.1 * since - 0.3 * (10 - since)), plan.Values[^1], Close);
        var (from, until) = Assert.Single(ScenarioModel.Activity(document.Scenarios[0].Rules[0], plan.Acts, 10));
        Assert.Equal(since, from, Close);
        Assert.Equal(10, until);
    }

    [Fact]
    public void It_is_told_from_when_until_when_a_change_was_held()
    {
        var document = With(Decay, 10, "while t >= 2 and t < 3 or t >= 6 and t < 7: k = 0");
        var plan = Run(document, double.NegativeInfinity).Plan;
        Assert.Equal(100 * Math.Exp(-0.8), plan.Values[^1], Close);
        Assert.Equal([(2.0, 3.0), (6.0, 7.0)], ScenarioModel.Activity(document.Scenarios[0].Rules[0], plan.Acts, 10));
    }

    [Fact]
    public void What_lies_close_together_is_one_stretch_and_the_first_begun_ends_first()
    {
        var document = With(Decay, 10, "every 2 from 1 until 5: A -> : 3 over 3 days", "every 0.25 until 2: A -> : 0.1");
        var acts = Run(document, double.NegativeInfinity).Plan.Acts;
        var rules = document.Scenarios[0].Rules;
        Assert.Equal([(1.0, 4.0), (3.0, 6.0), (5.0, 8.0)], ScenarioModel.Activity(rules[0], acts, 10));
        Assert.Equal([(1.0, 8.0)], ScenarioModel.Activity(rules[0], acts, 10, 0.1));
        Assert.Equal(8, ScenarioModel.Activity(rules[1], acts, 10).Count);
        Assert.Equal([(0.25, 2.0)], ScenarioModel.Activity(rules[1], acts, 10, 0.3));
    }

    [Fact]
    public void By_chance_it_is_told_in_how_many_replicates_a_rule_acts()
    {
        // Of a hundred that fall by chance, 70 is passed by day 10 in all replicates, and the time of one rule is the same in all.
        var document = With(Decay, 10, "at 5.2: A -> : 1", "while A < 70: k = 0.1 per day", "when A > 200: A -> : 1");
        const int count = 20;
        var request = new ProjectionRequest(count, 1, new Dictionary<ValueAddress, double>()) { Of = document.Compartments[0].Id };
        var projection = new Projection(document, null, request);
        var rules = ProjectionSummary.Made(projection, "", 1, projection.Run(2)).Scenarios[1].Rules;
        Assert.Equal([1.0, 1, 0], rules.Select(rule => rule.Ever));
        var interval = Enumerable
            .Range(0, projection.Times.Length - 1)
            .Single(k => projection.Times[k] <= 5.2 && projection.Times[k + 1] > 5.2);
        Assert.Equal(interval, rules[0].Acting.ToList().FindIndex(share => share == 1));
        Assert.Equal(1, rules[0].Acting.Sum());
        // What holds goes on until amounts turn, and they never rise again.
        Assert.Equal(0, rules[1].Acting[0]);
        Assert.Equal(1, rules[1].Acting[^1]);
        Assert.Equal(rules[1].Acting.Order(), rules[1].Acting);
    }

    [Fact]
    public void A_measure_over_a_window_and_a_rule_act_together()
    {
        var document = With(Decay, 10, "at 5: A -> : 20");
        document = new SetMeasure(document.Scenarios[0].Id, null, "Slower", "k", 0.5, 5, 10).Apply(document).Document!;
        Assert.Equal((100 * Math.Exp(-0.5) - 20) * Math.Exp(-0.25), Run(document, double.NegativeInfinity).Plan.Values[^1], Close);
    }

    private static (double[][] Baseline, double[][] Plan) Replicates(StudyDocument document, Series? series, int count)
    {
        var request = new ProjectionRequest(count, 11, new Dictionary<ValueAddress, double>()) { Of = document.Compartments[0].Id };
        var projection = new Projection(document, series, request);
        var worker = projection.CreateWorker();
        double[][] All(int scenario) => [.. Enumerable.Range(0, count).Select(r => worker.Run(scenario, r, default).Observed)];
        return (All(0), All(1));
    }

    [Fact]
    public void By_chance_the_mean_is_that_of_the_closed_form_and_all_before_is_shared()
    {
        var document = With(Decay.Replace("100", "1000"), 10, "at 5: A -> : 100");
        const int count = 400;
        var (baseline, plan) = Replicates(document, null, count);
        var half = baseline[0].Length / 2 - 2;
        Assert.All(Enumerable.Range(0, count), r => Assert.Equal(baseline[r][..half], plan[r][..half]));
        var mean = (1000 * Math.Exp(-0.5) - 100) * Math.Exp(-0.5);
        // Each of a thousand is there still or not: no binomial spread is above the root of 1000/4. Four standard errors.
        Assert.Equal(mean, plan.Average(run => run[^1]), 4 * Math.Sqrt(1000.0 / 4 / count));
    }

    [Fact]
    public void By_chance_a_condition_acts_and_units_stay_whole()
    {
        var document = With("A(0) = 100; A -> B : k * A; B(0) = 0; k = 0.1 per day", 10, "when A < 70 once: A -> B : 10.4");
        var (baseline, plan) = Replicates(document, null, 50);
        Assert.All(plan, run => Assert.All(run, value => Assert.Equal(Math.Round(value), value)));
        // Whoever falls below 70 loses ten at once.
        Assert.All(Enumerable.Range(0, 50), r => Assert.True(baseline[r].Min() >= 70 || plan[r].Min() <= baseline[r].Min() - 1));
    }

    [Fact]
    public void What_the_model_has_begun_goes_on_beside_what_the_scenario_does()
    {
        // Nothing is left to chance: three are brought every three days, and the scenario brings one every two days from now on.
        var document = With(
            "A(0) = 100; B(0) = 0; C(0) = 50; C -> : 0.001 * C; every 3: A -> B : 3; at 2: A -> B : 8 after 5 days",
            12,
            "every 2 from 1: A -> B : 1"
        );
        var data = new DataSet("d", "counted", [new(0, 2, 1), new(2, 4, 1)]);
        var (baseline, plan) = Replicates(document, new(new("o", "d", "Counted", document.Flows[0].Id, "1"), data), 2);
        Assert.Equal(100 - 4 * 3 - 8, baseline[0][^1]);
        // At days 5, 7, 9 and 11.
        Assert.Equal(100 - 4 * 3 - 8 - 4, plan[0][^1]);
    }

    /// <summary>A model with all that a run fills in by itself: an input that an event sets, draws, what goes on for a while, smoothing.</summary>
    private const string Filled =
        "A(0) = 400; B(0) = 0; A -> B : k * luck * f(t) * A * smooth(A, 2 days) / 400; k = 0.05 per day; luck = normal(1, 0.2) every day; "
        + "f = points 0 1, 30 1; g = points 0 1, 30 1; at 1: g = 2; at 3: -> A : 40 over 6 days; C(0) = 9; C -> : g(t) * 0.01 limited";

    [Theory]
    [InlineData("at 11: f = 0.5")]
    [InlineData("while smooth(B, 3 days) > 1e6: k = 0")]
    [InlineData("at 11: -> B : 3 over 2 days")]
    [InlineData("when A < 0 once: g = 7, f = 8")]
    public void What_a_rule_adds_to_a_model_leaves_alone_what_is_under_way_in_it(string rule)
    {
        var document = With(Filled, 12, rule);
        var (baseline, plan, times) = Run(document, 6);
        var until = times.ToList().FindIndex(time => time > 10.5);
        for (var k = 0; k < until; k++)
            Assert.Equal(baseline.Values[k], plan.Values[k], 1e-5 * baseline.Values[k]);
        var data = new DataSet("d", "counted", [new(0, 3, 1), new(3, 6, 1)]);
        var (chances, plans) = Replicates(document, new(new("o", "d", "Counted", document.Flows[0].Id, "1"), data), 4);
        var last = chances[0].Length * 3 / 4;
        for (var r = 0; r < 4; r++)
            Assert.Equal(chances[r][..last], plans[r][..last]);
    }

    [Theory]
    [InlineData("at 5: A -> : nothing", "nothing")]
    [InlineData("at 5: B -> : 3", "B")]
    [InlineData("sometimes: A -> : 3", "begins with")]
    [InlineData("every 0: A -> : 3", "above zero")]
    public void A_rule_that_cannot_act_is_refused(string text, string words)
    {
        var document = With(Decay, 10);
        Assert.Contains(words, new SetRule(document.Scenarios[0].Id, null, text).Apply(document).Refusal);
    }

    [Fact]
    public void A_rule_with_a_delay_runs_without_chance_and_is_refused_with_it()
    {
        var document = With(Decay, 10, "when delay(A, 2 days) < 60 once: A -> : 10");
        // It falls to 60 after 10 ln(100/60) days, and is told two days later.
        var when = 10 * Math.Log(100.0 / 60) + 2;
        Assert.Equal((100 * Math.Exp(-0.1 * when) - 10) * Math.Exp(-0.1 * (10 - when)), Run(document, 0).Plan.Values[^1], 1e-4);
        var refused = Assert.Throws<ProjectionRefusedException>(() => Replicates(document, null, 1));
        Assert.Contains("The scenario “Plan” cannot be run by chance. This model has a delay.", refused.Message);
    }

    [Fact]
    public void A_rule_is_changed_and_taken_away()
    {
        var document = With(Decay, 10, "at 5: A -> : 20");
        var (scenario, rule) = (document.Scenarios[0].Id, document.Scenarios[0].Rules[0].Id);
        var changed = new SetRule(scenario, rule, "at 6: A -> : 2").Apply(document).Document!;
        Assert.Equal((rule, "at 6: A -> : 2"), Assert.Single(changed.Scenarios[0].Rules) is var one ? (one.Id, one.Text) : default);
        Assert.Contains("no longer", new SetRule(scenario, "m99", "at 6: A -> : 2").Apply(document).Refusal);
        Assert.Contains("no longer", new SetRule("s99", null, "at 6: A -> : 2").Apply(document).Refusal);
        Assert.Empty(new RemoveMeasure(scenario, rule).Apply(changed).Document!.Scenarios[0].Rules);
    }

    [Theory]
    [InlineData(Studies.Latent, 7)]
    [InlineData("A(0) = at equilibrium; A -> B : 0.1 * A; -> A : 3; k = 0.5", 6)]
    [InlineData("A(0) = 100; A -> B : 0.1 * A", 4)]
    [InlineData("A(0) = 100; A -> : 0.1 * A", 1)]
    [InlineData("A(0) = 100; gulls = points 0 1, 9 3; A -> : gulls(t)", 2)]
    public void What_is_shown_as_an_example_can_be_typed(string lines, int count)
    {
        var document = Studies.Of(lines, 90);
        var examples = MeasureExamples.Of(document);
        Assert.Equal(count, examples.Count);
        Assert.All(examples, example => Assert.Null(new AddMeasureLine("", example.Line).Apply(document).Refusal));
    }

    [Fact]
    public void Typed_without_a_scenario_it_makes_one_that_is_named_by_it()
    {
        var document = new AddMeasureLine("", "at 5: A -> : 20").Apply(Studies.Of(Decay, 10)).Document!;
        Assert.Equal("at 5: A -> : 20", Assert.Single(document.Scenarios).Name);
        Assert.Equal("at 5: A -> : 20", Assert.Single(document.Scenarios[0].Rules).Text);
        var again = new AddMeasureLine("", "at 5: A -> : 20").Apply(document).Document!;
        Assert.Equal("at 5: A -> : 20 (2)", again.Scenarios[1].Name);
    }

    [Fact]
    public void What_it_names_no_longer_being_there_is_said_with_the_rule()
    {
        var document = With("A(0) = 100; B(0) = 5; A -> : k * A; k = 0.1 per day", 10, "at 5: A -> B : 20");
        document = new RemoveParts([document.Compartments[1].Id]).Apply(document).Document!;
        var refused = Assert.Throws<ArgumentException>(() => Run(document, double.NegativeInfinity));
        Assert.Contains("at 5: A -> B : 20", refused.Message);
    }

    [Fact]
    public void It_follows_a_part_that_is_called_otherwise_and_another_unit_of_time()
    {
        var document = With(Decay, 14, "every 7: A -> : 20");
        document = new SetField(document.Compartments[0].Id, PartField.Symbol, "Adults").Apply(document).Document!;
        Assert.Equal("every 7: Adults -> : 20", document.Scenarios[0].Rules[0].Text);
        var before = Run(document, double.NegativeInfinity).Plan.Values[^1];
        document = new SetTimeUnit(TimeUnit.Find("week")!, true).Apply(document).Document!;
        Assert.Equal("every 7 days: Adults -> : 20", document.Scenarios[0].Rules[0].Text);
        Assert.Equal(before, Run(document, double.NegativeInfinity).Plan.Values[^1], Close);
    }

    [Fact]
    public void Another_rule_is_another_projection()
    {
        string Of(string rule)
        {
            var document = With(Decay, 10, rule);
            return Projection.Fingerprint(document, null, new(5, 1, new Dictionary<ValueAddress, double>()) { Of = "c1" });
        }
        Assert.Equal(Of("at 5: A -> : 20"), Of("at 5: A -> : 20"));
        Assert.NotEqual(Of("at 5: A -> : 20"), Of("at 5: A -> : 21"));
    }
}
