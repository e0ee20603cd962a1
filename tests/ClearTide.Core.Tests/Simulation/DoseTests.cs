using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>Doses as events bring them: at once, over a duration, with a lag, only a share of them reaching the compartment.</summary>
public class DoseTests
{
    private const double K = 0.17,
        Absorption = 1.1;

    // Tolerance 1e-8 a step of amounts near 100; a few hundred steps leave two digits of room.
    private const double Close = 1e-4;

    /// <summary>One compartment, infused at a constant rate from 0 for a duration (any textbook of pharmacokinetics).</summary>
    private static double Infused(double t, double dose, double duration) =>
        t <= 0 ? 0
        : t <= duration ? dose / duration / K * (1 - Math.Exp(-K * t))
        : Infused(duration, dose, duration) * Math.Exp(-K * (t - duration));

    /// <summary>One compartment with first-order absorption of a dose at 0 (the same).</summary>
    private static double Absorbed(double t, double dose) =>
        t <= 0 ? 0 : dose * Absorption / (Absorption - K) * (Math.Exp(-K * t) - Math.Exp(-Absorption * t));

    private static void Follows(string lines, Func<double, double> exact, double end = 60)
    {
        var times = OutputTimes.Every(0, end, 0.7);
        var run = Runs.OfLines(lines, times);
        var at = run.Network.Amounts.ToList().FindIndex(amount => amount.Symbol == "C");
        for (var k = 0; k < times.Length; k++)
            Assert.Equal(exact(times[k]), run.Amount(k, at), Close);
    }

    [Fact]
    public void A_dose_at_once_decays() => Follows("C -> at 0.17; at 3: -> C : 200", t => t < 3 ? 0 : 200 * Math.Exp(-K * (t - 3)));

    [Fact]
    public void An_infusion_rises_and_falls_by_its_closed_form() =>
        Follows("C -> at 0.17; at 3: -> C : 200 over 5 days", t => Infused(t - 3, 200, 5));

    [Fact]
    public void Infusions_that_overlap_add_up() =>
        Follows("C -> at 0.17; every 4 days from 0 until 16 days: -> C : 60 over 10 days", t =>
            Enumerable.Range(0, 5).Sum(k => Infused(t - 4 * k, 60, 10))
        );

    [Fact]
    public void Tablets_come_with_a_share_and_a_lag() =>
        Follows(
            "G -> C at 1.1; C -> at 0.17; F = 0.6; every 12 hours from 1 day until 7 days: -> G : F * 50 after 0.25 days",
            t => Enumerable.Range(0, 13).Sum(k => Absorbed(t - 1.25 - 0.5 * k, 30)),
            20
        );

    [Fact]
    public void A_lagged_infusion_begins_later_by_its_lag() =>
        Follows("C -> at 0.17; at 2: -> C : 90 over 3 days after 4 days", t => Infused(t - 6, 90, 3));

    [Fact]
    public void When_all_infusions_are_over_their_rate_is_nothing_at_all()
    {
        var run = Runs.OfLines(
            "C -> : 0 * C; at 0.1: -> C : 0.3 over 0.7; at 0.2: -> C : 0.1 over 0.3; at 0.3: -> C : 0.7 over 1.1",
            0,
            3,
            1e6
        );
        // No rounding is left in the rate, which over a million days would show.
        Assert.Equal(run.Amount(1, 0), run.Amount(2, 0));
        Assert.Equal(1.1, run.Amount(1, 0), 1e-12);
    }

    [Fact]
    public void An_amount_moves_between_compartments_over_a_while()
    {
        var run = Runs.OfLines("A -> B : 0 * A; at 2: A -> B : 30 over 10 days; A(0) = 100", 0, 2, 7, 12, 20);
        Assert.Equal([100, 100, 85, 70, 70], run.AmountColumn(0).Select(amount => Math.Round(amount, 9)));
        Assert.Equal([0, 0, 15, 30, 30], run.AmountColumn(1).Select(amount => Math.Round(amount, 9)));
    }

    [Fact]
    public void An_amount_is_taken_out_at_once() =>
        Assert.Equal([100, 60], Runs.OfLines("A -> : 0 * A; at 2: A -> : 40; A(0) = 100", 0, 3).AmountColumn(0));

    [Fact]
    public void A_change_of_a_value_waits_for_its_delay()
    {
        // X passes 50 at 10 ln 2; the value changes three days later.
        var run = Runs.OfLines("X -> at 0.1; -> Y : k; k = 0; when X < 50: k = 1 after 3 days; X(0) = 100", 0, 20);
        Assert.Equal(20 - 3 - 10 * Math.Log(2), run.Amount(1, 1), 1e-6);
    }

    [Theory]
    [InlineData("at 2: C = 5 over 3 days", "spreads an amount")]
    [InlineData("at 2: -> C : 5 over 3 days over 2 days", "stands twice")]
    [InlineData("while C > 2: k = 5 after 3 days", "belongs to")]
    [InlineData("at 2: -> : 5", "Name the compartment")]
    public void Lines_that_cannot_be_are_refused(string line, string why)
    {
        var document = Studies.Of("C -> at 0.1; k = 1");
        Assert.Contains(why, new AddLines(line).Apply(document).Refusal, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("at 2: -> C : 5 over 0 days", "above zero")]
    [InlineData("at 2: S -> C : 5 over 3 days", "stages")]
    [InlineData("at 2: -> k : 5", "between compartments")]
    public void Lines_that_do_not_fit_the_model_are_found(string line, string why)
    {
        var document = Studies.Of("C -> at 0.1; S -> C after 4 days in 2 stages; k = 1; " + line);
        Assert.Contains(Lowering.Lower(document).Findings, finding => finding.Message.Contains(why, StringComparison.Ordinal));
    }

    [Fact]
    public void Converting_the_unit_of_time_keeps_what_doses_mean()
    {
        var document = Studies.Of("C -> at 0.17 per day; every 2 from 1 until 9: -> C : 60 over 0.5 after 0.25", 14);
        var weeks = new SetTimeUnit(TimeUnit.Find("week")!, Convert: true).Apply(document).Document!;
        double Final(StudyDocument study) => Runs.Run(new(Lowering.Lower(study).Network), [0, study.End]).Amount(1, 0);
        Assert.Equal(Final(document), Final(weeks), Close);
    }

    [Fact]
    public void Removing_and_renaming_reach_what_events_bring()
    {
        var document = Studies.Of("C -> at 0.17; at 3: -> C : dose over D; dose = 20; D = 2 days");
        var renamed = new SetField(document.PartBySymbol("D")!.Id, PartField.Symbol, "T").Apply(document).Document!;
        Assert.Equal("at 3: -> C : dose over T", renamed.Events[0].Text);
    }
}
