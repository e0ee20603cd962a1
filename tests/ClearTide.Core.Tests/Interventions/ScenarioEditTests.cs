using ClearTide.Core.Compilation;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Interventions;

public class ScenarioEditTests
{
    private static readonly StudyDocument Study = Studies.Of(Studies.Latent);
    private static readonly ValueAddress Beta = new("beta");

    private static StudyDocument With(params (double Factor, double From, double Until)[] measures)
    {
        var document = new AddScenario("Pause").Apply(Study).Document!;
        foreach (var (factor, from, until) in measures)
            document = new SetMeasure(document.Scenarios[0].Id, null, "Less contact", Beta, factor, from, until).Apply(document).Document!;
        return document;
    }

    [Theory]
    [InlineData("", "between 1 and 60")]
    [InlineData("baseline", "already")]
    [InlineData("Pause", "already")]
    public void A_name_that_cannot_be_is_refused(string name, string words) =>
        Assert.Contains(words, new AddScenario(name).Apply(With()).Refusal);

    [Fact]
    public void A_scenario_gets_another_name_that_no_other_has()
    {
        var document = new AddScenario("Longer").Apply(With()).Document!;
        var id = document.Scenarios[0].Id;
        Assert.Equal("Ferry", new RenameScenario(id, " Ferry ").Apply(document).Document!.Scenarios[0].Name);
        Assert.Same(document, new RenameScenario(id, "Pause").Apply(document).Document);
        Assert.Contains("already", new RenameScenario(id, "Longer").Apply(document).Refusal);
        Assert.Contains("already", new RenameScenario(id, "Baseline").Apply(document).Refusal);
        Assert.Contains("between 1 and 60", new RenameScenario(id, " ").Apply(document).Refusal);
        Assert.Contains("no longer", new RenameScenario("gone", "Ferry").Apply(document).Refusal);
    }

    [Fact]
    public void There_is_a_most_number_of_scenarios()
    {
        var document = Enumerable
            .Range(0, AddScenario.MostScenarios)
            .Aggregate(Study, (made, k) => new AddScenario($"Plan {k}").Apply(made).Document!);
        Assert.Contains("at most", new AddScenario("One more").Apply(document).Refusal);
    }

    [Theory]
    [InlineData("", 0.5, 10, 20, "Name the measure")]
    [InlineData("Pause", -1, 10, 20, "zero or more")]
    [InlineData("Pause", double.NaN, 10, 20, "zero or more")]
    [InlineData("Pause", 0.5, 20, 20, "must end after")]
    [InlineData("Pause", 0.5, double.NaN, 20, "two times")]
    public void A_measure_that_cannot_be_is_refused(string label, double factor, double from, double until, string words)
    {
        var document = With();
        Assert.Contains(words, new SetMeasure(document.Scenarios[0].Id, null, label, Beta, factor, from, until).Apply(document).Refusal);
        Assert.Contains(
            "no value “kappa”",
            new SetMeasure(document.Scenarios[0].Id, null, "Pause", new("kappa"), 0.5, 1, 2).Apply(document).Refusal
        );
    }

    [Fact]
    public void A_measure_can_be_changed_and_taken_away_and_its_scenario_too()
    {
        var document = With((0.5, 10, 20));
        var (scenario, measure) = (document.Scenarios[0].Id, document.Scenarios[0].Measures[0].Id);
        var changed = new SetMeasure(scenario, measure, "Longer", Beta, 0.4, 10, 30).Apply(document).Document!;
        Assert.Equal(
            (measure, 0.4, 30.0),
            Assert.Single(changed.Scenarios[0].Measures) is var one ? (one.Id, one.Factor, one.Until) : default
        );
        Assert.Empty(new RemoveMeasure(scenario, measure).Apply(changed).Document!.Scenarios[0].Measures);
        Assert.Empty(new RemoveScenario(scenario).Apply(changed).Document!.Scenarios);
    }

    [Fact]
    public void Measures_that_overlap_multiply_and_none_acts_before_now()
    {
        var document = With((0.5, 10, 40), (0.8, 30, 60));
        var network = Lowering.Lower(document).Network;
        var plan = MeasurePlan.Of(document.Scenarios[0], network, now: 20);
        Assert.Equal([20.0, 30, 40, 60], plan.Changes.Select(change => change.Time));
        var beta = network.IndexOf(Beta);
        Assert.Equal(
            [
                [0.5],
                [0.5, 0.8],
                [0.8],
                [],
            ],
            plan.Changes.Select(change => change.Values.Where(value => value.Index == beta).Select(value => value.Factor).ToArray())
        );
    }

    [Fact]
    public void A_run_under_a_measure_is_the_run_of_the_model_that_changes_by_itself()
    {
        // One compartment left at 0.1 a day, and at half of that from day 10 to 20: exp(-0.1 * 25) of it after 30 days.
        var document = new AddScenario("Pause").Apply(Studies.Of("A(0) = 1000; A -> at k; k = 0.1", 30)).Document!;
        document = new SetMeasure(document.Scenarios[0].Id, null, "Half", new("k"), 0.5, 10, 20).Apply(document).Document!;
        var model = new CompiledModel(Lowering.Lower(document).Network);
        var plan = MeasurePlan.Of(document.Scenarios[0], model.Network, double.NegativeInfinity);
        var run = Engines.Run(new(model, model.Network.ValueVector(), [0, 30]) { Plan = plan });
        // The usual tolerance is 1e-6 for each step; the error of a decay does not grow.
        Assert.Equal(1000 * Math.Exp(-2.5), run.Amount(run.Times.Count - 1, 0), 1e-3);
    }

    [Fact]
    public void A_scenario_is_duplicated_with_its_measures_and_rules_under_ids_of_their_own()
    {
        var document = new SetRule(With().Scenarios[0].Id, null, "at 5: S -> R : 20").Apply(With((0.5, 10, 20))).Document!;
        document = new AddScenario("Longer").Apply(document).Document!;
        document = new DuplicateScenario(document.Scenarios[0].Id).Apply(document).Document!;
        Assert.Equal(["Pause", "Pause (2)", "Longer"], document.Scenarios.Select(scenario => scenario.Name));
        var (one, two) = (document.Scenarios[0], document.Scenarios[1]);
        Assert.Equal(one.Measures[0] with { Id = "" }, two.Measures[0] with { Id = "" });
        Assert.Equal(one.Rules[0] with { Id = "" }, two.Rules[0] with { Id = "" });
        string[] ids =
        [
            one.Id,
            two.Id,
            .. document.Scenarios.SelectMany(each => each.Measures.Select(m => m.Id).Concat(each.Rules.Select(r => r.Id))),
        ];
        Assert.Equal(ids.Length, ids.Distinct().Count());
        // The next id is behind all of them.
        Assert.DoesNotContain("s" + document.NextId, ids);
        Assert.DoesNotContain("m" + document.NextId, ids);
        Assert.Equal("Pause (3)", new DuplicateScenario(one.Id).Apply(document).Document!.Scenarios[1].Name);
        Assert.Contains("no longer", new DuplicateScenario("gone").Apply(document).Refusal);
    }

    [Fact]
    public void A_scenario_that_is_off_is_kept_and_not_run()
    {
        var document = new AddScenario("Longer").Apply(With((0.5, 10, 20))).Document!;
        var off = new SwitchScenario(document.Scenarios[0].Id, true).Apply(document).Document!;
        ScenarioRuns Runs(StudyDocument of) =>
            ScenarioRuns.Of(Lowering.Lower(of), of.Compartments[0].Id, double.NegativeInfinity, new Dictionary<ValueAddress, double>());
        Assert.Equal(["Baseline", "Pause", "Longer"], Runs(document).Curves.Select(curve => curve.Name));
        Assert.Equal(["Baseline", "Longer"], Runs(off).Curves.Select(curve => curve.Name));
        Assert.Equal(2, off.Scenarios.Length);
        var on = new SwitchScenario(document.Scenarios[0].Id, false).Apply(off).Document!;
        Assert.Equal(document.Scenarios.AsEnumerable(), on.Scenarios.AsEnumerable());
        Assert.Contains("no longer", new SwitchScenario("gone", true).Apply(document).Refusal);
    }

    [Fact]
    public void A_scenario_moves_up_as_far_as_the_first_place()
    {
        var document = new AddScenario("Longer").Apply(With()).Document!;
        var up = new MoveScenarioUp(document.Scenarios[1].Id).Apply(document).Document!;
        Assert.Equal(["Longer", "Pause"], up.Scenarios.Select(scenario => scenario.Name));
        Assert.Same(up, new MoveScenarioUp(up.Scenarios[0].Id).Apply(up).Document);
        Assert.Contains("no longer", new MoveScenarioUp("gone").Apply(up).Refusal);
    }
}
