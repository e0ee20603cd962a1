using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Simulation;

public class SwitchTests
{
    /// <summary>Jumps are found to rounding, so that what is left is the solver's error of 1e-8 of the amount.</summary>
    private const double Tight = 1e-7;

    [Theory]
    [InlineData("-> A : if(t > 3.7 and t < 3.8, 100, 0)", 10)]
    [InlineData("-> A : if(t > 3.7, 1, 0)", 6.3)]
    [InlineData("-> A : abs(t - 5)", 25)]
    [InlineData("-> A : min(t, 5)", 37.5)]
    [InlineData("-> A : max(t, 5)", 62.5)]
    [InlineData("-> A : floor(t)", 45)]
    [InlineData("-> A : mod(t, 2)", 10)]
    [InlineData("-> A : round(t)", 50)]
    [InlineData("-> A : if(sin(t) > 0, sin(t), 0)", 4)]
    public void Jumps_in_time_are_found_before_the_run(string flow, double total) =>
        Assert.Equal(total, Runs.OfLines(flow, 0, 10).Amount(1, 0), Tight);

    [Fact]
    public void A_window_too_narrow_for_any_step_is_not_missed() =>
        Assert.Equal(1, Runs.OfLines("-> A : if(t > 50 and t < 50.001, 1000, 0)", 0, 100).Amount(1, 0), Tight);

    [Fact]
    public void A_jump_that_depends_on_amounts_is_located()
    {
        // Torricelli: X = (2 - t/2)^2 until it is empty at day 4, where the root may not be passed.
        var run = Runs.OfLines("X -> : if(X > 0, sqrt(X), 0); X(0) = 4", 0, 2, 3.9, 6);
        Assert.Equal(1, run.Amount(1, 0), 1e-6);
        Assert.Equal(0.0025, run.Amount(2, 0), 1e-6);
        Assert.Equal(0, run.Amount(3, 0), 1e-6);
    }

    [Fact]
    public void A_kink_in_an_amount_is_a_switch_too()
    {
        // Growth of 1 a day up to 10, then decay towards it: A' = 1 + min(0, 10 - A).
        var run = Runs.OfLines("-> A : 1 + min(0, 10 - A)", 0, 8, 12);
        Assert.Equal(8, run.Amount(1, 0), Tight);
        Assert.Equal(11 - Math.Exp(-2), run.Amount(2, 0), Tight);
    }

    [Fact]
    public void A_thermostat_ends_its_run_and_says_that_it_chatters()
    {
        var run = StudyRun.Of(Studies.Of("-> A : if(A < 10, 5, -5)", 20));
        Assert.Null(run.Failure);
        // Held for a moment at each turn, the amount stays within a few thousandths of its mark.
        Assert.Equal(10, run.Run!.Amount(run.Run.Times.Count - 1, 0), 0.05);
        Assert.Contains(run.Notes, note => note.Message.Contains("back and forth"));
    }

    [Fact]
    public void Steps_give_the_digits_of_the_closed_form_across_many_jumps()
    {
        // Dosing 10 an hour for the first quarter of each day, leaving at rate 1 a day: the periodic state of a linear model.
        var run = Runs.OfLines("-> A : if(mod(t, 1) < 0.25, 10, 0); A -> at 1", 0, 60);
        var filled = 10 * (1 - Math.Exp(-0.25));
        var trough = filled * Math.Exp(-0.75) / (1 - Math.Exp(-1));
        Assert.Equal(trough, run.Amount(1, 0), 1e-6);
    }

    [Fact]
    public void A_compartment_that_must_not_stops_when_it_falls_below_zero()
    {
        var document = Studies.Of("X -> Y : 3; X(0) = 6", 5);
        document = new SetField(document.Compartments[0].Id, PartField.NeverBelowZero, "true").Apply(document).Document!;
        var failure = StudyRun.Of(document).Failure;
        Assert.Contains("X fell below zero", failure);
        Assert.Contains("X → Y takes 3 per day", failure);
    }
}
