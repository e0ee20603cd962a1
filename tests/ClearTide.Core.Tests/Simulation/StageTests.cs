using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Simulation;

public class StageTests
{
    /// <summary>The default tolerances keep a decay of this length to better than this.</summary>
    private const double Solver = 1e-7;

    /// <summary>Share still there after t in n stages with rate per stage λ: the Erlang survival function (Feller, An Introduction to
    /// Probability Theory II, I.3).</summary>
    private static double Erlang(int n, double rate, double t)
    {
        var (sum, term) = (0.0, 1.0);
        for (var k = 0; k < n; k++)
        {
            sum += term;
            term *= rate * t / (k + 1);
        }
        return Math.Exp(-rate * t) * sum;
    }

    [Theory]
    [InlineData(1)]
    [InlineData(3)]
    [InlineData(12)]
    public void A_staged_stay_follows_the_erlang_law(int stages)
    {
        var run = Runs.OfLines($"I -> R after 5 days in {stages} stages; I(0) = 100", 0, 2, 5, 9);
        for (var k = 1; k < 4; k++)
            Assert.Equal(100 * Erlang(stages, stages / 5.0, run.Times[k]), run.Amount(k, 0), 100 * Solver);
        Assert.Equal(100, run.Amount(3, 0) + run.Amount(3, 1), 1e-9);
    }

    [Theory]
    [InlineData("I -> D at 0.1 per day")]
    [InlineData("I -> D : 0.1 * I")]
    [InlineData("I -> D : 0.1 * I / (1 + 0 * I)")]
    public void Other_exits_leave_every_stage(string exit)
    {
        var run = Runs.OfLines($"I -> R after 5 days in 4 stages; {exit}; I(0) = 100", 0, 3, 8);
        for (var k = 1; k < 3; k++)
            Assert.Equal(100 * Erlang(4, 0.8, run.Times[k]) * Math.Exp(-0.1 * run.Times[k]), run.Amount(k, 0), 100 * Solver);
    }

    [Fact]
    public void An_initial_amount_may_be_spread_evenly()
    {
        var document = Studies.Of("I -> R after 6 days in 3 stages; I(0) = 90");
        document = new SetField(document.Flows[0].Id, PartField.SpreadStart, "true").Apply(document).Document!;
        var run = Runs.Run(new(Lowering.Lower(document).Network), [0, 4]);
        var expected = 30 * (Erlang(1, 0.5, 4) + Erlang(2, 0.5, 4) + Erlang(3, 0.5, 4));
        Assert.Equal(expected, run.Amount(1, 0), 90 * Solver);
    }

    [Fact]
    public void Inflow_enters_the_first_stage_and_a_move_leaves_all_in_proportion()
    {
        // After the move the shares of the stages are as before it, so that the survival curve only drops by the share moved.
        var run = Runs.OfLines("I -> R after 5 days in 3 stages; V -> : 0 * V; I(0) = 100; at 2 days: I -> V : I / 4", 0, 1.9, 2.1, 6);
        Assert.Equal(75 * Erlang(3, 0.6, 6), run.Amount(3, 0), 100 * Solver);
        Assert.Equal(25 * Erlang(3, 0.6, 2), run.Amount(3, 2), 100 * Solver);
    }

    [Fact]
    public void A_fan_out_behind_stages_splits_what_leaves()
    {
        var run = Runs.OfLines("I -> R 98%, D the rest after 5 days in 3 stages; I(0) = 100", 0, 200);
        Assert.Equal(98, run.Amount(1, 1), 1e-6);
        Assert.Equal(2, run.Amount(1, 2), 1e-6);
    }

    [Fact]
    public void Only_one_exit_has_stages_and_whole_formulas_have_none()
    {
        var two = Lowering.Lower(Studies.Of("I -> R after 5 days in 3 stages; I -> D after 9 days in 2 stages"));
        Assert.Contains(two.Findings, finding => finding.Message.Contains("has one such exit") && finding.Fixes.Count == 1);
        Assert.Contains("belong to a stay", new AddLines("I -> R : 3 in 2 stages").Apply(new StudyDocument { Title = "T" }).Refusal);
    }

    [Theory]
    [InlineData("0")]
    [InlineData("10000")]
    [InlineData("2.5")]
    public void Stage_counts_that_make_no_sense_are_refused_with_a_way_out(string count)
    {
        Assert.Contains(
            "between 1 and 100 stages",
            new AddLines($"I -> R after 5 days in {count} stages").Apply(new StudyDocument { Title = "T" }).Refusal
        );
        var document = Studies.Of("I -> R after 5 days");
        Assert.Contains("between 1 and 100 stages", new SetField(document.Flows[0].Id, PartField.Stages, count).Apply(document).Refusal);
    }
}
