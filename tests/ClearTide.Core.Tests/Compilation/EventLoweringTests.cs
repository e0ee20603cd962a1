using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Compilation;

/// <summary>Events from their lines to the network: when they happen, and what they do, against amounts worked out by hand.</summary>
public class EventLoweringTests
{
    private static double Final(string lines, string symbol, double end)
    {
        var run = StudyRun.Of(Studies.Of(lines, end));
        Assert.Null(run.Failure);
        var place = run.Lowered.Document.PlaceOf(run.Lowered.Document.CompartmentBySymbol(symbol)!);
        return run.Run!.Amount(run.Run.Times.Count - 1, place);
    }

    // Amounts are moved by events alone: they are exact but for sums of a few terms.
    [Theory]
    [InlineData("at 30: A -> B : 400", 600)]
    [InlineData("at 30: A -> : 400", 600)]
    [InlineData("at 30: -> A : 400", 1400)]
    [InlineData("at 30: A -> B : A / 4", 750)]
    [InlineData("every 10 days from 5 until 40: A -> B : 1", 996)]
    [InlineData("every 10 days: -> A : 1", 1010)]
    [InlineData("at 200: A -> B : 400", 1000)]
    [InlineData("at 30: A = 7", 7)]
    public void What_happens_at_times_moves_what_it_says(string line, double expected) =>
        Assert.Equal(expected, Final($"A(0) = 1000; B(0) = 0; {line}", "A", 100), 1e-9);

    [Fact]
    public void What_lasts_a_while_moves_as_much_evenly()
    {
        const string lines = "A(0) = 0; at 10: -> A : 60 over 12 hours";
        Assert.Equal(60, Final(lines, "A", 20), 1e-9);
        // A quarter of a day of the half that it takes.
        Assert.Equal(30, Final(lines, "A", 10.25), 1e-9);
    }

    [Fact]
    public void A_value_is_set_from_then_on_and_a_while_only_as_long_as_it_holds()
    {
        // Ten days at 0.1 a day, then ten at 0.2: exp(-3) of it is left. At the run's tolerance of 1e-6, five digits stand.
        Assert.Equal(1000 * Math.Exp(-3), Final("A(0) = 1000; A -> at k; k = 0.1; at 10: k = 0.2", "A", 20), 1e-3);
        // The level falls at 100 a day to 500, which takes five days, then at 10 a day.
        Assert.Equal(450, Final("A(0) = 1000; A -> : k limited; k = 10; while A > 500: k = 100", "A", 10), 1e-3);
    }

    [Fact]
    public void A_condition_happens_where_it_comes_true_and_once_where_it_says_so()
    {
        // It falls to 100 on the second, fourth, ... day and is filled up by 200 each time, or the first time only.
        Assert.Equal(250, Final("A(0) = 300; A -> : 100 limited; when A < 100: -> A : 200", "A", 6.5), 1e-6);
        Assert.Equal(0, Final("A(0) = 300; A -> : 100 limited; when A < 100 once: -> A : 200", "A", 10), 1e-6);
    }

    [Fact]
    public void An_event_about_what_is_not_there_is_unfinished_and_names_it()
    {
        var lowered = Lowering.Lower(Studies.Of("A(0) = 10; at 5: A -> B : 3"));
        Assert.Contains(lowered.Findings, finding => finding.Severity == Severity.Unfinished && finding.Message.Contains('B'));
        var gone = Lowering.Lower(Studies.Of("A(0) = 10; at 5: kappa = 3"));
        Assert.Contains(gone.Findings, finding => finding.Severity == Severity.Unfinished && finding.Message.Contains("kappa"));
    }

    [Fact]
    public void Actions_at_one_time_go_in_the_order_of_their_lines()
    {
        const string double_ = "at 5: A = 2 * A";
        const string add = "at 5: -> A : 10";
        Assert.Equal(40, Final($"A(0) = 10; {add}; {double_}", "A", 10), 1e-9);
        Assert.Equal(30, Final($"A(0) = 10; {double_}; {add}", "A", 10), 1e-9);
    }
}
