using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Ensembles;

/// <summary>The least effort that keeps a limit, against closed forms and exact laws.</summary>
public class MeasureSearchTests
{
    private static StudyDocument Study(string measure)
    {
        var study = Studies.Of("A(0) = 100; k = 0.1; A -> B at k; B(0) = 0", 20);
        return new AddMeasureLine("", measure).Apply(study).Document!;
    }

    private static MeasureSearch Search(StudyDocument study, MeasureQuestion question) =>
        MeasureSearch.Of(Lowering.Lower(study), question, double.NegativeInfinity, ImmutableDictionary<ValueAddress, double>.Empty);

    private static MeasureQuestion Ask(StudyDocument study, MeasureSetting setting, double from, double to, double limit, int runs = 0) =>
        new(
            study.Scenarios[0].Id,
            study.Scenarios[0].Measures[0].Id,
            setting,
            from,
            to,
            study.CompartmentBySymbol("B")!.Id,
            OutcomeKind.Final,
            limit,
            0.9,
            runs
        );

    [Fact]
    public void A_pause_is_as_long_as_it_has_to_be()
    {
        // While k is zero nothing flows: B(20) = 100 (1 − e^(−0.1 (20 − u))) for a pause of length u from the start.
        var study = Study("k x 0, days 0 to 5");
        var found = Search(study, Ask(study, MeasureSetting.End, 1, 20, 60) with { Steps = 20 });
        Assert.Equal(20, found.Tried.Length);
        foreach (var one in found.Tried)
            // The solver's tolerance of 1e-8 leaves six digits.
            Assert.Equal(100 * (1 - Math.Exp(-0.1 * (20 - one.Setting))), one.Outcome, 1e-4);
        // 1 − e^(−x/10) = 0.6 at x = 9.16: a pause of 10.84 is enough, and 11 is the first step that is.
        Assert.Equal(11, found.Tried[found.Best!.Value].Setting, 1e-12);
        Assert.Null(found.Interval);
    }

    [Fact]
    public void The_weakest_that_keeps_the_limit_is_chosen()
    {
        var study = Study("k x 0.5, days 0 to 20");
        var found = Search(study, Ask(study, MeasureSetting.Strength, 0, 1, 60) with { Steps = 101 });
        // 1 − e^(−2 f) = 0.6 at f = 0.458.
        Assert.Equal(0.45, found.Tried[found.Best!.Value].Setting, 1e-12);
        Assert.Null(Search(study, Ask(study, MeasureSetting.Strength, 0.9, 1, 60)).Best);
    }

    [Fact]
    public void Of_two_settings_the_pair_of_least_effort_or_cost_keeps_the_limit()
    {
        // k scaled by f over u days from the start: B(20) = 100 (1 − e^(−0.1 (20 − (1 − f) u))), so that (1 − f) u ≥ 10.84 keeps 60.
        var study = Study("k x 0.5, days 0 to 5");
        var question = Ask(study, MeasureSetting.Length, 1, 20, 60) with
        {
            Steps = 20,
            Second = new(study.Scenarios[0].Measures[0].Id, MeasureSetting.Strength, 0, 0.95),
        };
        var found = Search(study, question);
        Assert.Equal(400, found.Tried.Length);
        foreach (var one in found.Tried)
            Assert.Equal(100 * (1 - Math.Exp(-0.1 * (20 - (1 - one.Second) * one.Setting))), one.Outcome, 1e-4);
        var least = found
            .Tried.Where(one => (1 - one.Second) * one.Setting >= 10 * Math.Log(0.4) + 20)
            .Min(one => (1 - one.Second) * one.Setting);
        Assert.Equal(least, found.Tried[found.Best!.Value].Effort, 1e-9);
        Assert.False(found.HasCosts);
        // A day costs 2, however weak it is: the shortest of those that keep the limit, which is the strongest, is the cheapest.
        study = new SetCost(study.Scenarios[0].Id, study.Scenarios[0].Measures[0].Id, "2 per day").Apply(study).Document!;
        found = Search(study, question);
        var best = found.Tried[found.Best!.Value];
        Assert.Equal((11.0, 22.0), (best.Setting, best.Cost));
        Assert.True(found.HasCosts && found.IsAtEdge == (best.Second == 0));
    }

    [Fact]
    public void A_measure_is_moved_as_it_is_and_what_was_found_becomes_a_scenario()
    {
        // A pause of five days whenever it is leaves 15 days of flow: the outcome does not depend on when.
        var study = Study("k x 0, days 0 to 5");
        var id = study.Scenarios[0].Measures[0].Id;
        var question = Ask(study, MeasureSetting.Time, 0, 15, 90) with { Steps = 4, Second = new(id, MeasureSetting.Strength, 0, 1) };
        var found = Search(study, question);
        Assert.All(found.Tried.Where(one => one.Second == 0), one => Assert.Equal(100 * (1 - Math.Exp(-1.5)), one.Outcome, 1e-4));
        var taken = new TakeSetting(study.Scenarios[0].Id, id, MeasureSetting.Time, 10) { Second = (id, MeasureSetting.Strength, 0.25) };
        var made = taken.Apply(study).Document!.Scenarios[1].Measures[0];
        Assert.Equal((10.0, 15.0, 0.25), (made.From, made.Until, made.Factor));
        Assert.Equal("k × 0.25", made.Label);
        var gone = taken with { Second = ("x", MeasureSetting.End, 3) };
        Assert.Contains("no longer", gone.Apply(study).Refusal);
        Assert.Contains(
            "second setting",
            Assert.Throws<ArgumentException>(() => Search(study, question with { Second = new(id, MeasureSetting.End, 5, 5) })).Message
        );
    }

    [Fact]
    public void What_is_there_now_counts_also_where_it_is_gone_at_once()
    {
        // Ten stand still until 10.02 and are gone then: from 10.01 on their most is ten, between two times at which runs are looked at.
        var study = Studies.Of("A(0) = 10; B(0) = 0; k = 0.1; X -> Y : 0 * k * X; X(0) = 1; at 10.02: A -> B : 10", 20);
        study = new AddMeasureLine("", "k x 0.5, days 15 to 20").Apply(study).Document!;
        var question = Ask(study, MeasureSetting.Strength, 0, 1, 5, 20) with
        {
            PartId = study.CompartmentBySymbol("A")!.Id,
            Outcome = OutcomeKind.Maximum,
        };
        var found = MeasureSearch.Of(Lowering.Lower(study), question, 10.01, ImmutableDictionary<ValueAddress, double>.Empty);
        Assert.All(found.Tried, one => Assert.Equal((10, 0), (one.Outcome, one.Share)));
    }

    [Fact]
    public void By_chance_the_share_of_runs_is_that_of_the_exact_law()
    {
        // Each of 100 leaves by itself: B(20) is binomial with p = 1 − e^(−0.1 (20 − u)).
        var study = Study("k x 0, days 0 to 5");
        var found = Search(study, Ask(study, MeasureSetting.End, 8, 14, 60, 1000) with { Steps = 7 });
        foreach (var one in found.Tried)
        {
            var law = MathNet.Numerics.Distributions.Binomial.CDF(1 - Math.Exp(-0.1 * (20 - one.Setting)), 100, 60);
            // A share of n lies within 4.5 standard errors but for 7 in a million; the seed is fixed.
            Assert.Equal(law, one.Share, 4.5 * Math.Sqrt(law * (1 - law) / 1000) + 1e-9);
        }
        var best = found.Tried[found.Best!.Value];
        Assert.True(best.Share >= 0.9);
        Assert.InRange(best.Share, found.Interval!.Value.Low, found.Interval.Value.High);
        // The same chance at each setting: a longer pause never loses a run that a shorter one kept.
        Assert.Equal(found.Tried.Select(one => one.Share).Order(), found.Tried.Select(one => one.Share));
    }

    [Theory]
    [InlineData(5, 5, 60, 0.9, 0, "the lower one first")]
    [InlineData(1, 5, double.NaN, 0.9, 0, "limit as a number")]
    [InlineData(1, 5, 60, 1.5, 0, "share of runs")]
    [InlineData(1, 5, 60, 0.9, -1, "0 to 1,000 runs")]
    [InlineData(-9, -1, 60, 0.9, 0, "end after it begins")]
    public void A_question_that_makes_no_sense_is_refused(double from, double to, double limit, double share, int runs, string why)
    {
        var study = Study("k x 0, days 0 to 5");
        var question = Ask(study, MeasureSetting.End, from, to, limit, runs) with { Share = share };
        Assert.Contains(why, Assert.Throws<ArgumentException>(() => Search(study, question)).Message);
    }

    [Fact]
    public void What_is_gone_is_told_and_a_flow_by_chance_is_refused()
    {
        var study = Study("k x 0, days 0 to 5");
        var question = Ask(study, MeasureSetting.End, 1, 5, 60);
        Assert.Contains("scenario", Assert.Throws<ArgumentException>(() => Search(study, question with { ScenarioId = "x" })).Message);
        Assert.Contains("measure", Assert.Throws<ArgumentException>(() => Search(study, question with { MeasureId = "x" })).Message);
        var flow = question with { PartId = study.Flows[0].Id, Replicates = 10 };
        Assert.Contains("single units", Assert.Throws<ArgumentException>(() => Search(study, flow)).Message);
    }
}
