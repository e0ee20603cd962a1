using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

public class LimitedFlowTests
{
    /// <summary>Amounts are straight lines here: the solver is exact but for rounding and the place of the switch, which bisection finds
    /// to the last bits.</summary>
    private const double Tight = 1e-9;

    private static Trajectory Run(string lines, params double[] times) => Runs.OfLines(lines, times);

    [Fact]
    public void One_that_empties_is_held_at_exactly_zero_and_refills()
    {
        // 6 units last two days at 3 a day; from day 10 more flows in than is taken.
        var run = Run("-> X : if(t < 10, 1, 5); X -> Y : 3 limited; X(0) = 4", 0, 1, 2, 5, 9.5, 12, 15);
        Assert.Equal(2, run.Amount(1, 0), Tight);
        Assert.Equal(0, run.Amount(3, 0));
        Assert.Equal(0, run.Amount(4, 0));
        Assert.Equal(1, run.RateColumn(1)[3], Tight);
        Assert.Equal(4, run.Amount(5, 0), Tight);
        Assert.Equal(10, run.Amount(6, 0), Tight);
        // All that came in and was there has gone to Y or stayed: 4 + 10 + 25 in fifteen days.
        Assert.Equal(39, run.Amount(6, 0) + run.Amount(6, 1), Tight);
        var note = Assert.Single(run.Notes);
        Assert.Equal((RunNoteKind.Limited, 2.0, 10.0), (note.Kind, Math.Round(note.From, 9), Math.Round(note.Until, 9)));
    }

    [Fact]
    public void A_wave_of_inflow_empties_and_refills_as_worked_by_hand()
    {
        // dX = 2 + 2 sin t - 3 while X > 0, so X = 1 - t + 2 (1 - cos t) at first.
        var (low, high) = (2.0, 6.0);
        for (var k = 0; k < 60; k++)
        {
            var middle = (low + high) / 2;
            if (1 - middle + 2 * (1 - Math.Cos(middle)) > 0)
                low = middle;
            else
                high = middle;
        }
        var empty = low;
        // Held until 2 + 2 sin t exceeds 3 again.
        var full = 2 * Math.PI + Math.PI / 6;
        var run = Run("-> X : 2 + 2 * sin(t); X -> Y : 3 limited; X(0) = 1", 0, 3, empty + 0.5, 6.5, 8);
        Assert.Equal(1 - 3 + 2 * (1 - Math.Cos(3)), run.Amount(1, 0), 1e-7);
        Assert.Equal(0, run.Amount(2, 0));
        Assert.Equal(2 + 2 * Math.Sin(6.5), run.RateColumn(1)[3], 1e-9);
        Assert.Equal(-(8 - full) + 2 * (Math.Cos(full) - Math.Cos(8)), run.Amount(4, 0), 1e-7);
    }

    [Fact]
    public void Several_share_what_flows_in_by_their_demand_and_free_exits_leave_first()
    {
        var run = Run("-> X : 3; X -> A : 4 limited; X -> B : 2 limited", 0, 1);
        Assert.Equal(2, run.Amount(1, 1), Tight);
        Assert.Equal(1, run.Amount(1, 2), Tight);
        var withFree = Run("-> X : 3; X -> A : 4 limited; X -> B : 1", 0, 1);
        Assert.Equal(2, withFree.Amount(1, 1), Tight);
        Assert.Equal(1, withFree.Amount(1, 2), Tight);
        Assert.Equal(0, withFree.Amount(1, 0));
    }

    [Fact]
    public void A_chain_of_empty_compartments_passes_on_what_comes()
    {
        var run = Run("-> A : 1; A -> B : 5 limited; B -> C : 7 limited; C -> D : 9 limited", 0, 4);
        Assert.Equal(0, run.Amount(1, 0));
        Assert.Equal(0, run.Amount(1, 1));
        Assert.Equal(0, run.Amount(1, 2));
        Assert.Equal(4, run.Amount(1, 3), Tight);
    }

    [Fact]
    public void An_empty_circle_moves_nothing_by_itself()
    {
        var run = Run("A -> B : 3 limited; B -> A : 5 limited", 0, 10);
        Assert.Equal(0, run.RateColumn(0)[1]);
        Assert.Equal(0, run.RateColumn(1)[1]);
    }

    [Fact]
    public void A_circle_that_is_fed_runs_at_its_demand_and_keeps_the_rest()
    {
        // A gets 1 from outside and all that B returns: 3 leave, 3 come back, and A gains 1 a day.
        var run = Run("-> A : 1; A -> B : 3 limited; B -> A : 5 limited", 0, 10);
        Assert.Equal(10, run.Amount(1, 0) + run.Amount(1, 1), Tight);
        Assert.Equal(3, run.RateColumn(1)[1], 1e-6);
    }

    [Fact]
    public void A_circle_with_a_leak_settles_where_the_sum_of_its_rounds_does()
    {
        // Half of what leaves A comes back: x = 1 + x/2 gives 2, below the demand of 10. The factors solve this without running the rounds.
        var run = Run("-> A : 1; A -> B 50%, C the rest : 10 limited; B -> A : 20 limited", 0, 3);
        Assert.Equal(2, run.RateColumn(1)[1], 1e-9);
        Assert.Equal(0, run.Amount(1, 0));
        Assert.Equal(3, run.Amount(1, 2), 1e-9);
    }

    [Fact]
    public void Free_exits_may_take_an_amount_below_zero_and_limited_ones_then_give_nothing()
    {
        var run = Run("X -> A : 2; X -> B : 1 limited; -> X : if(t < 5, 0, 4); X(0) = 3", 0, 1, 3, 8.5);
        Assert.Equal(0, run.Amount(1, 0), Tight);
        Assert.Equal(-4, run.Amount(2, 0), Tight);
        Assert.Equal(1, run.Amount(2, 2), Tight);
        // From day 5 it gains 2 a day and is back at zero on day 9.
        Assert.Equal(1, run.Amount(3, 2), Tight);
    }

    [Fact]
    public void Fixed_steps_reach_the_same_where_amounts_are_straight_lines()
    {
        var document = Studies.Of("-> X : if(t < 10, 1, 5); X -> Y : 3 limited; X(0) = 4", 15);
        var run = Runs.Run(
            new(Lowering.Lower(document).Network),
            [0, 15],
            SolverSettings.Default with
            {
                Method = Method.RungeKutta4,
                Step = 0.25,
            }
        );
        Assert.Equal(10, run.Amount(1, 0), 1e-9);
    }

    [Fact]
    public void A_limited_flow_from_outside_is_doubted_and_a_per_head_one_needs_no_limit()
    {
        Assert.NotNull(new AddLines("-> X : 3 limited").Apply(new StudyDocument { Title = "T" }).Refusal);
        var run = Run("X -> Y at 0.5 limited; X(0) = 8", 0, 2);
        Assert.Equal(8 * Math.Exp(-1), run.Amount(1, 0), 1e-7);
    }

    [Theory]
    [InlineData("A -> B : 3 limited; B -> A : 5 limited", "A → B → A")]
    [InlineData("A -> B : 3 limited; B -> C 50%, D : 5 limited; C -> A : 1 limited", "A → B → C → A")]
    public void A_circle_is_legal_and_told_with_a_way_out(string lines, string circle)
    {
        var document = Studies.Of(lines);
        var finding = Assert.Single(Lowering.Lower(document).Findings);
        Assert.Contains(circle, finding.Message);
        Assert.DoesNotContain(Lowering.Lower(finding.Fixes[0].Edit.Apply(document).Document!).Findings, left =>
            left.Message.Contains("in a circle")
        );
    }

    [Fact]
    public void A_line_of_limited_flows_is_no_circle() =>
        Assert.Empty(Lowering.Lower(Studies.Of("A -> B : 3 limited; B -> C : 5 limited; A -> C : 1 limited")).Findings);
}
