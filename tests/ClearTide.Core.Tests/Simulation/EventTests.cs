using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

public class EventTests
{
    [Fact]
    public void Results_hold_both_sides_of_a_jump()
    {
        var document = Studies.Of("S -> S2 : 0 * S; V -> : 0 * V; at 5: S -> V : 40; S(0) = 100", 10);
        var model = new CompiledModel(Lowering.Lower(document).Network);
        var values = model.Network.ValueVector();
        var run = Engines.Run(new(model, values, [0, 5, 10]) { Rows = Rows.WithJumps });
        Assert.Equal([0, 5, 5, 10], run.Times);
        Assert.Equal([100, 100, 60, 60], run.AmountColumn(0));
        var after = Engines.Run(new(model, values, [0, 5, 10]));
        Assert.Equal([100, 60, 60], after.AmountColumn(0));
    }

    [Fact]
    public void An_event_every_so_often_keeps_its_beat()
    {
        var run = Runs.OfLines("A -> : 0 * A; every 7 days from 3 days: A = A + 10", 0, 2.9, 3.1, 9.9, 10.1, 40);
        Assert.Equal([0, 0, 10, 10, 20, 60], run.AmountColumn(0));
        var plain = Runs.OfLines("A -> : 0 * A; every 7 days: A = A + 10", 0, 6.9, 7.1);
        Assert.Equal([0, 0, 10], plain.AmountColumn(0));
    }

    [Fact]
    public void A_condition_is_met_at_the_place_of_its_root()
    {
        // X = 100 exp(-t/10) reaches 50 at 10 ln 2; from there Y gains 1 a day.
        var run = Runs.OfLines("X -> at 0.1; -> Y : k; k = 0; when X < 50: k = 1; X(0) = 100", 0, 20);
        // The place of the root is known to the solver's error, 1e-8 of the amount.
        Assert.Equal(20 - 10 * Math.Log(2), run.Amount(1, 1), 1e-6);
    }

    [Fact]
    public void When_acts_on_each_rise_and_once_only_on_the_first()
    {
        const string Waves = "A -> : 0 * A; B -> : 0 * B; when sin(t) > 0.5: A = A + 1; when sin(t) > 0.5 once: B = B + 1";
        var run = Runs.OfLines(Waves, 0, 20);
        Assert.Equal(4, run.Amount(1, 0));
        Assert.Equal(1, run.Amount(1, 1));
    }

    [Fact]
    public void A_condition_true_at_the_start_has_not_become_true()
    {
        var run = Runs.OfLines("A -> : 0 * A; when A > 1: A = A + 100; A(0) = 5", 0, 5);
        Assert.Equal(5, run.Amount(1, 0));
    }

    [Fact]
    public void While_holds_a_value_and_then_undoes_it()
    {
        // 2 a day until 10, then 1 a day until day 9 ends the condition's other side: A = 10 at day 5, 14 at day 9.
        var run = Runs.OfLines("-> A : k; k = 2; while A >= 10 and t < 9: k = k / 2", 0, 5, 9, 10);
        Assert.Equal([0, 10, 14, 16], run.AmountColumn(0), (a, b) => Math.Abs(a - b) < 1e-8);
        Assert.Equal(
            [2.0, 2, 1],
            new[]
            {
                run.QuantityColumn(0)[0],
                run.QuantityColumn(0)[3],
                Runs.OfLines("-> A : k; k = 2; while A >= 10 and t < 9: k = k / 2", 0, 7).QuantityColumn(0)[1],
            }
        );
    }

    [Fact]
    public void Events_of_one_instant_act_in_stored_order()
    {
        Assert.Equal(24, Runs.OfLines("A -> : 0 * A; at 1: A = A + 2; at 1: A = A * 2; A(0) = 10", 0, 2).Amount(1, 0));
        Assert.Equal(22, Runs.OfLines("A -> : 0 * A; at 1: A = A * 2; at 1: A = A + 2; A(0) = 10", 0, 2).Amount(1, 0));
    }

    [Fact]
    public void An_event_may_set_off_another_but_not_without_end()
    {
        Assert.Equal(7, Runs.OfLines("A -> : 0 * A; B -> : 0 * B; at 1: A = 5; when A > 3: B = 7", 0, 2).Amount(1, 1));
        var endless = Studies.Of("A -> : 0 * A; when A > 1: A = 0; when A < 1: A = 2; at 1: A = 2", 5);
        var failure = StudyRun.Of(endless).Failure;
        Assert.Contains("set off one another", failure);
    }

    [Fact]
    public void An_input_can_be_replaced_for_a_while_or_for_good()
    {
        const string Input = "-> A : flow(t); flow = points 0 1, 100 1; ";
        Assert.Equal(12, Runs.OfLines(Input + "while t > 4 and t <= 6: flow = 2", 0, 10).Amount(1, 0), 1e-9);
        Assert.Equal(4, Runs.OfLines(Input + "at 4: flow = 0", 0, 10).Amount(1, 0), 1e-9);
    }

    [Fact]
    public void A_date_needs_a_calendar()
    {
        var document = Studies.Of("A -> : 0 * A; at 2031-03-05: A = 7", 10);
        Assert.Contains(Lowering.Lower(document).Findings, finding => finding.Message.Contains("which date its time zero is"));
        document = document with { Origin = new DateOnly(2031, 3, 1) };
        Assert.Empty(Lowering.Lower(document).Findings);
        Assert.Equal([0, 7], Runs.Run(new(Lowering.Lower(document).Network), [0, 3.9, 4.1]).AmountColumn(0)[1..]);
    }

    [Theory]
    [InlineData("A -> : 0 * A; q = 2 * A; at 3: q = 5", "which follows from others")]
    [InlineData("A -> : 0 * A; while A < 3: A = 5", "Use “when”")]
    [InlineData("A -> : 0 * A; b = 1; at 3: A -> b : 5", "b is none")]
    [InlineData("A -> : 0 * A; at 3: zz = 5", "zz is not defined")]
    [InlineData("A -> : 0 * A; every 0 days: A = 5", "time above zero")]
    public void What_an_event_cannot_do_is_told(string lines, string words) =>
        Assert.Contains(Lowering.Lower(Studies.Of(lines)).Findings, finding =>
            finding.Severity == Severity.Unfinished && finding.Message.Contains(words)
        );

    [Fact]
    public void When_with_a_value_offers_while()
    {
        var document = Studies.Of("H -> : 0 * H; beta = 1; when H > 40: beta = beta / 2");
        var finding = Assert.Single(Lowering.Lower(document).Findings);
        var mended = Assert.Single(finding.Fixes).Edit.Apply(document).Document!;
        Assert.Equal("while H > 40: beta = beta / 2", mended.Events[0].Text);
        Assert.Empty(Lowering.Lower(mended).Findings);
    }
}
