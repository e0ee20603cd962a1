using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Interventions;

/// <summary>What measures cost, typed, summed over a run, and set against what they avert.</summary>
public class CostTests
{
    /// <summary>Units leave at 0.1 a day; a scenario for each line, with its cost.</summary>
    private static StudyDocument Study(params (string Line, string Cost)[] scenarios)
    {
        var document = Studies.Of("A -> B at k; k = 0.1 per day; V -> : 0 * V; A(0) = 100", 20);
        foreach (var (line, cost) in scenarios)
        {
            document = Studies.With(document, new AddScenario($"Plan {document.Scenarios.Length + 1}"));
            document = Studies.With(document, new AddMeasureLine(document.Scenarios[^1].Id, line));
            var scenario = document.Scenarios[^1];
            document = Studies.With(
                document,
                new SetCost(scenario.Id, scenario.Measures.FirstOrDefault()?.Id ?? scenario.Rules[0].Id, cost)
            );
        }
        return document;
    }

    private static ScenarioRuns Runs(StudyDocument document, double now = double.NegativeInfinity) =>
        ScenarioRuns.Of(Lowering.Lower(document), document.Compartments[0].Id, now, ImmutableDictionary<ValueAddress, double>.Empty);

    [Theory]
    [InlineData("500", 500, 0, 0, 0)]
    [InlineData("500 once, 20 per day", 500, 20, 0, 0)]
    [InlineData("140 per week and 3 each", 0, 20, 0, 3)]
    [InlineData("1.5 each time + 2 each; 7", 7, 0, 1.5, 2)]
    [InlineData("", 0, 0, 0, 0)]
    public void A_cost_is_typed_as_it_is_said(string text, double once, double perDay, double eachTime, double eachUnit)
    {
        var (cost, problem) = CostLine.Read(text, TimeUnit.Day);
        Assert.Null(problem);
        Assert.Equal(new(once, perDay, eachTime, eachUnit), cost);
    }

    [Theory]
    [InlineData("much", "“much” is no cost")]
    [InlineData("500,20 per day", "“500,20” can be read in two ways. Write 500.20 for one number, or 500, 20 for two costs.")]
    [InlineData("20 per bed", "“bed” is no unit of time")]
    [InlineData("20 a day", "“20 a day” is no cost")]
    [InlineData("1e300 per day", "at most")]
    public void What_is_no_cost_is_refused_in_words(string text, string words) =>
        Assert.Contains(words, CostLine.Read(text, TimeUnit.Day).Problem);

    [Fact]
    public void Costs_add_up_over_what_measures_do()
    {
        var runs = Runs(
            Study(
                // 15 of the 20 days: the window ends with the span.
                ("k x 0.5, days 5 to 50", "100, 2 per day"),
                // Days 4, 8, 12 and 16, ten units each.
                ("every 4 days from 4 until 19: A -> V : 10", "7, 1 each time, 0.5 each"),
                // Below 50 from day 10 ln 2 on.
                ("while A < 50: k = 0", "3 per day"),
                ("at 30: A -> V : 10", "1000"),
                ("at 1: A -> V : 40", "100, 5 each")
            )
        );
        Assert.Equal(0, runs.Curves[0].Cost);
        Assert.Equal(100 + 2 * 15, runs.Curves[1].Cost, 1e-9);
        // At day 16 fewer than ten are left to move. The solver holds 1e-8 of a hundred.
        var left = 100 * Math.Exp(-1.6) - 10 * (Math.Exp(-1.2) + Math.Exp(-0.8) + Math.Exp(-0.4));
        Assert.InRange(left, 0, 10);
        Assert.Equal(7 + 4 + 0.5 * (30 + left), runs.Curves[2].Cost, 1e-5);
        // The solver finds the crossing to its own tolerance, 1e-8 of a hundred.
        Assert.Equal(3 * (20 - 10 * Math.Log(2)), runs.Curves[3].Cost, 1e-5);
        // What lies outside the span is never done.
        Assert.Equal(0, runs.Curves[4].Cost);
        Assert.Equal(300, runs.Curves[5].Cost, 1e-9);
    }

    [Fact]
    public void What_lies_before_now_is_not_counted()
    {
        var runs = Runs(Study(("k x 0.5, days 5 to 15", "2 per day"), ("every 4 days from 4 until 19: A -> V : 10", "1 each time")), 10);
        Assert.Equal(10, runs.Curves[1].Cost, 1e-9);
        Assert.Equal(2, runs.Curves[2].Cost, 1e-9);
    }

    [Fact]
    public void One_averted_has_its_cost_and_what_costs_more_and_leaves_more_is_dominated()
    {
        var document = Study(
            ("at 1: A -> V : 40", "400"),
            ("at 1: A -> V : 20", "500"),
            ("at 1: A -> V : 10", "0"),
            ("at 1: -> A : 5", "1")
        );
        var compared = new CostComparison(Runs(document), IsFlow: false);
        // What is moved at day 1 would have been 40 exp(-1.9) at day 20.
        Assert.Equal(400 / (40 * Math.Exp(-1.9)), compared.PerAverted(1)!.Value, 1e-4);
        Assert.Equal(0, compared.PerAverted(3));
        Assert.Null(compared.PerAverted(4));
        // The baseline costs nothing and leaves more than ten fewer, so that the third plan beats it.
        Assert.Equal(["Plan 3", null, "Plan 1", null, "Baseline"], Enumerable.Range(0, 5).Select(compared.Better));
    }

    [Fact]
    public void A_cost_goes_with_its_measure()
    {
        var document = Study(("every 4 days from 4 until 19: A -> V : 10", "3 each"));
        var scenario = document.Scenarios[0];
        var copied = Studies.With(document, new DuplicateScenario(scenario.Id));
        Assert.Equal("3 each", copied.Scenarios[1].CostOf(copied.Scenarios[1].Rules[0].Id));
        Assert.Empty(Studies.With(document, new RemoveMeasure(scenario.Id, scenario.Rules[0].Id)).Scenarios[0].Costs);
        Assert.Empty(Studies.With(document, new SetCost(scenario.Id, scenario.Rules[0].Id, " ")).Scenarios[0].Costs);
        Assert.Contains("no longer in", new SetCost(scenario.Id, "m99", "3").Apply(document).Refusal);
        var window = Study(("k x 0.5, days 5 to 15", "1"));
        Assert.Contains(
            "moves no units",
            new SetCost(window.Scenarios[0].Id, window.Scenarios[0].Measures[0].Id, "3 each").Apply(window).Refusal
        );
        var lasting = Study(("at 3: A -> V : 10 over 2 days", "1"));
        Assert.Contains(
            "over a time",
            new SetCost(lasting.Scenarios[0].Id, lasting.Scenarios[0].Rules[0].Id, "3 each").Apply(lasting).Refusal
        );
    }

    [Fact]
    public void By_chance_a_rule_costs_what_it_does_in_each_run()
    {
        // Whether 12 of 20 units are left after 5 days is binomial; then all of them are moved, at 2 each and 10 once.
        var document = Studies.Of("A -> B at 0.1; V -> : 0 * V; A(0) = 20", 6);
        document = Studies.With(document, new AddScenario("Clear"));
        document = Studies.With(document, new AddMeasureLine(document.Scenarios[0].Id, "at 5: A -> V : if(A > 11.5, 12, 0)"));
        document = Studies.With(document, new SetCost(document.Scenarios[0].Id, document.Scenarios[0].Rules[0].Id, "10, 2 each"));
        var request = new ProjectionRequest(2000, 3, new Dictionary<ValueAddress, double>()) { Of = document.Compartments[0].Id };
        var projection = new Projection(document, null, request);
        var made = ProjectionSummary.Made(projection, "", 3, projection.Run(2));
        var cost = made.Scenarios[1].Outcome(ProjectedOutcome.Cost);
        var share = 1 - Binomial.CDF(Math.Exp(-0.5), 20, 11);
        Assert.InRange(share, 0.3, 0.7);
        // 10 in one part of the runs, 34 in the others.
        Assert.Equal((10.0, 34.0), (cost.Value.P5, cost.Value.P95));
        var dear = cost.Spread!.Counts[^1] / (double)cost.Spread.Counts.Sum();
        Assert.Equal(share, dear, 4.5 * Math.Sqrt(share * (1 - share) / 2000));
        Assert.Equal(0, made.Scenarios[0].Outcome(ProjectedOutcome.Cost).Value.P95);
    }
}
