using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>Events that take more than is there: what is there moves, and the run says so, or it stops.</summary>
public class ShortageTests
{
    private static StudyDocument Stopping(StudyDocument document) => document.With(document.Events[0] with { StopsWhenShort = true });

    private static double Amount(StudyRun run, string symbol, double time)
    {
        var made = run.Run!;
        var row = made.Times.ToList().FindLastIndex(at => at <= time + 1e-9);
        return made.Amount(row, made.Network.Amounts.ToList().FindIndex(amount => amount.Symbol == symbol));
    }

    [Fact]
    public void A_move_of_more_than_is_there_moves_all_of_it_and_the_run_says_so()
    {
        var run = StudyRun.Of(Studies.Of("S(0) = 100; S -> I : 0.1 * S; V -> : 0 * V; at 5: S -> V : 400"));
        Assert.Null(run.Failure);
        Assert.Equal(100 * Math.Exp(-0.5), Amount(run, "V", 100), 1e-5);
        Assert.Equal(0, Amount(run, "S", 5), 1e-9);
        Assert.Equal(0, Amount(run, "S", 100), 1e-9);
        var finding = Assert.Single(run.Notes, note => note.PartId == run.Lowered.Document.Events[0].Id);
        Assert.Contains("S held 60.653 at day 5, and 400 was to leave it", finding.Message, StringComparison.Ordinal);
        var stopped = StudyRun.Of(finding.Fixes[0].Edit.Apply(run.Lowered.Document).Document!);
        Assert.Contains("was to move more than was there. S held 60.653", stopped.Failure, StringComparison.Ordinal);
        // The part of the run before that is there to read.
        Assert.Equal(5, stopped.Run!.Times[^1], 1e-9);
        Assert.Equal(100 * Math.Exp(-0.4), Amount(stopped, "S", 4), 1e-5);
    }

    [Theory]
    [InlineData("S(0) = 100; S -> : 0 * S; at 5: S -> : 400", "S", 0)]
    [InlineData("S(0) = 100; V(0) = 7; S -> : 0 * S; at 5: S -> V : -10", "S", 107)]
    [InlineData("S(0) = 100; V(0) = 7; S -> : 0 * S; at 5: S -> V : -4", "S", 104)]
    [InlineData("S(0) = 100; S -> V after 5 days in 3 stages; at 1: S -> W : 400; W -> : 0 * W", "S", 0)]
    [InlineData("S(0) = 100; S -> V : 0 * S; at 5: S -> V : 400 after 2 days", "V", 100)]
    [InlineData("S(0) = 100; S -> V : 0 * S; every 10 days: S -> V : 30", "V", 100)]
    [InlineData("S(0) = 100; S -> V : 0 * S; at 5: S -> V : 60, S -> W : 60; W -> : 0 * W", "W", 40)]
    public void No_move_leaves_less_than_nothing(string lines, string symbol, double expected)
    {
        var run = StudyRun.Of(Studies.Of(lines));
        Assert.Null(run.Failure);
        Assert.Equal(expected, Amount(run, symbol, 100), 1e-6);
        for (var part = 0; part < run.Run!.Network.Amounts.Count; part++)
            Assert.All(run.Run.AmountColumn(part), amount => Assert.True(amount >= -1e-9));
    }

    [Fact]
    public void A_move_over_a_while_takes_no_more_than_is_there()
    {
        var document = Studies.Of("S(0) = 100; S -> V : 0 * S; at 5: S -> V : 400 over 8 days");
        var run = StudyRun.Of(document);
        Assert.Equal(50, Amount(run, "S", 6), 1e-6);
        Assert.Equal(100, Amount(run, "V", 50), 1e-6);
        Assert.Contains(run.Notes, note => note.Message.StartsWith("S was empty from day 7 to 13, so", StringComparison.Ordinal));
        Assert.Contains("was to move more than was there", StudyRun.Of(Stopping(document)).Failure, StringComparison.Ordinal);
        // Enough is there for these: nothing is said, and nothing stops.
        Assert.Null(StudyRun.Of(Stopping(Studies.Of("S(0) = 100; S -> V : 0 * S; at 5: S -> V : 100 over 8 days"))).Failure);
        Assert.Equal(
            130,
            Amount(StudyRun.Of(Studies.Of("S(0) = 100; V(0) = 30; S -> V : 0 * S; at 5: S -> V : -40 over 8 days")), "S", 50),
            1e-6
        );
    }

    [Fact]
    public void What_still_flows_in_goes_on_while_a_move_over_a_while_is_short()
    {
        // 50 a day are to leave from day 0 to 8, and 10 come in: 100 last two and a half days, then 10 a day go on.
        var run = StudyRun.Of(Studies.Of("S(0) = 100; -> S : 10; at 0: S -> V : 400 over 8 days; V -> : 0 * V"));
        Assert.Equal(100 + 80, Amount(run, "V", 20), 1e-5);
        Assert.Equal(120, Amount(run, "S", 20), 1e-5);
    }

    [Fact]
    public void Setting_an_amount_below_zero_is_a_finding()
    {
        var run = StudyRun.Of(Studies.Of("S(0) = 100; S -> : 0 * S; at 5: S = S - 400"));
        Assert.Equal(-300, Amount(run, "S", 50), 1e-9);
        Assert.Contains(run.Notes, note => note.Message.StartsWith("This sets S below zero, to -300, at day 5", StringComparison.Ordinal));
        var brought = StudyRun.Of(Studies.Of("S(0) = 100; S -> : 0 * S; at 5: -> S : -400"));
        Assert.Contains(brought.Notes, note => note.Message.StartsWith("This sets S below zero", StringComparison.Ordinal));
        // What is zero but for the solver's error is none.
        Assert.DoesNotContain(StudyRun.Of(Studies.Of("S(0) = 100; S -> I : 0.1 * S; at 5: S = S - 60.65306597")).Notes, note =>
            note.Message.Contains("below zero", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void A_limited_compartment_that_an_event_took_below_zero_is_said_to_be_empty()
    {
        var run = StudyRun.Of(Studies.Of("S(0) = 100; S -> I : 3 limited; at 5: S = -20; at 40: S = 50"));
        // It gives nothing until there is something again, and then for as long as it lasts.
        Assert.Equal(15, Amount(run, "I", 39), 1e-6);
        Assert.Equal(65, Amount(run, "I", 100), 1e-6);
        Assert.Contains(run.Notes, note => note.Message.Contains("S was empty from day 5 to 40", StringComparison.Ordinal));
    }

    [Fact]
    public void Chance_moves_no_more_than_is_there()
    {
        var lowered = Lowering.Lower(Studies.Of("S(0) = 10; S -> V : 0 * S; at 5: S -> V : 400"));
        var model = new CompiledModel(lowered.Network);
        var values = lowered.Network.ValueVector();
        var run = new NextReactionSimulator(model).Run(new(model, values, [0, 10]) { Seed = 1 });
        Assert.Equal([10.0, 0, 0, 10], run.States);
        var stopping = Lowering.Lower(Stopping(lowered.Document));
        var failure = Assert.Throws<SimulationException>(() =>
            new NextReactionSimulator(new(stopping.Network)).Run(new(new(stopping.Network), values, [0, 10]) { Start = [10, 0], Seed = 1 })
        );
        Assert.Contains("was to move more than was there. S held 10.", RunFailure.Say(failure, stopping), StringComparison.Ordinal);
    }
}
