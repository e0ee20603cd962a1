using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>Events that act so many times at most, or rest after they have acted.</summary>
public class EventOftenTests
{
    /// <summary>A clock: one more each day.</summary>
    private const string Clock = "-> N : 1 per day; N(0) = 0; -> G : 0; G(0) = 0; ";

    private static IReadOnlyList<double> Times(string rule, double end = 40)
    {
        var run = StudyRun.Of(Studies.Of(Clock + rule, end));
        Assert.Null(run.Failure);
        var id = run.Lowered.Document.Events[0].Id;
        return [.. run.Run!.Acts.Where(act => act.PartId == id).Select(act => Math.Round(act.Time, 6))];
    }

    [Theory]
    // N falls by 5 whenever it is 10: at day 10, 15, 20, and so on.
    [InlineData("when N >= 10 once: N -> : 5", new double[] { 10 })]
    [InlineData("when N >= 10 at most 3 times: N -> : 5", new double[] { 10, 15, 20 })]
    [InlineData("when N >= 10 at most once: N -> : 5", new double[] { 10 })]
    // It comes back at day 15, and waits for what is left of twelve days.
    [InlineData("when N >= 10 at most every 12 days: N -> : 5", new double[] { 10, 22, 34 })]
    // After the second the amount lies above for good, and it acts whenever it has rested.
    [InlineData("when N >= 10 at most every 7 days: N -> : 2", new double[] { 10, 17, 24, 31, 38 })]
    [InlineData("when N >= 10 at most every 7 days at most 2 times: N -> : 2", new double[] { 10, 17 })]
    [InlineData("when N >= 10 at most 1 time at most every 7 days: N -> : 2", new double[] { 10 })]
    [InlineData("every 6 days at most 4 times: -> G : 1", new double[] { 6, 12, 18, 24 })]
    [InlineData("every 6 days from 3 at most 2 times: -> G : 1", new double[] { 3, 9 })]
    // The rest begins where it was triggered, not where its delayed action is done.
    [InlineData("when N >= 10 at most every 12 days: -> G : 1 after 2 days", new double[] { 12, 24, 36 })]
    public void An_event_acts_when_it_may(string rule, double[] expected) => Assert.Equal(expected, Times(rule));

    [Fact]
    public void Chance_and_the_run_without_it_act_at_the_same_times()
    {
        // A planned stream of single units: by chance too one comes each day.
        var lowered = Lowering.Lower(
            Studies.Of("G(0) = 0; -> G : 0; at 0: -> G : 40 over 40 days; when G >= 10 at most every 12 days at most 2 times: G -> : 5", 40)
        );
        var request = new RunRequest(lowered.Compiled, lowered.Network.ValueVector(), OutputTimes.Every(0, 40, 1)) { Seed = 3 };
        var id = lowered.Document.Events[1].Id;
        double[] Acts(Trajectory run) => [.. run.Acts.Where(act => act.PartId == id).Select(act => Math.Round(act.Time, 6))];
        Assert.Equal([10, 22], Acts(Engines.Run(request, null)));
        var byChance = Acts(new ExactEngine().Run(request));
        Assert.Equal(2, byChance.Length);
        // Units of an even stream are at most one early or late.
        Assert.InRange(byChance[0], 9, 11);
        Assert.Equal(12, byChance[1] - byChance[0], 1e-6);
    }

    [Theory]
    [InlineData("when N > 1 at most 0 times: N -> : 1", "After “at most” comes how often")]
    [InlineData("when N > 1 at most 2.5 times: N -> : 1", "After “at most” comes how often")]
    [InlineData("when N > 1 at most 3: N -> : 1", "“times” is missing")]
    [InlineData("when N > 1 at 3 times: N -> : 1", "“at” goes on with “most”")]
    [InlineData("while N > 1 at most 3 times: k = 1", "belong to “when”")]
    [InlineData("every 3 days at most every 6 days: N -> : 1", "“every” has its interval already")]
    public void What_makes_no_sense_is_told(string line, string why) =>
        Assert.Contains(why, EventLine.Read(line).Problem!.Message, StringComparison.Ordinal);

    [Fact]
    public void What_is_dropped_when_false_cannot_rest()
    {
        var study = Studies.Of(Clock + "when N >= 10 at most every 12 days: N -> : 5 after 1 day", 40);
        study = study.With(study.Events[0] with { DroppedWhenFalse = true });
        Assert.Contains(Lowering.Lower(study).Findings, finding => finding.Message.Contains("cannot rest", StringComparison.Ordinal));
    }

    [Fact]
    public void The_rest_of_a_rule_keeps_its_meaning_in_another_unit_of_time()
    {
        var study = Studies.Of(Clock + "when N >= 10 at most every 14: N -> : 5", 40);
        var weeks = new SetTimeUnit(TimeUnit.Week, true).Apply(study).Document!;
        var run = StudyRun.Of(weeks).Run!;
        Assert.Equal([10.0 / 7, 24.0 / 7, 38.0 / 7], run.Acts.Where(act => act.PartId != "").Select(act => act.Time), (a, b) =>
            Math.Abs(a - b) < 1e-6
        );
    }

    [Fact]
    public void A_measure_says_how_often_too_and_begins_to_count_with_the_future()
    {
        var study = Studies.Of(Clock, 60);
        study = Studies.With(study, new AddMeasureLine("", "when N >= 10 at most 2 times: N -> : 5"));
        var runs = ScenarioRuns.Of(Lowering.Lower(study), study.Compartments[0].Id, 20.5, new Dictionary<ValueAddress, double>());
        var rule = study.Scenarios[0].Rules[0];
        var acts = runs.Curves[1].Acts.Where(act => act.PartId == rule.Id).Select(act => Math.Round(act.Time, 6));
        // It is 20.5 when the future begins, then 15.5 and above for good: true there already, and never again.
        Assert.Equal([20.5], acts);
    }
}
