using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>Runs that cannot go on say why, and keep what there was before.</summary>
public class FailedRunTests
{
    private static StudyRun Of(string lines, double end = 100, SolverChoice? solver = null) =>
        StudyRun.Of(Studies.Of(lines, end) is var document && solver is not null ? document with { Solver = solver } : document);

    [Fact]
    public void Growth_without_bound_is_told_as_that_and_the_curve_before_can_be_read()
    {
        var run = Of("-> A : A^2 / 10; A(0) = 1");
        Assert.StartsWith("The run stopped at day 10: amounts grow without bound there.", run.Failure, StringComparison.Ordinal);
        // A = 1 / (1 - t / 10), up to where its scale would hide everything else.
        var made = run.Run!;
        Assert.InRange(made.Times[^1], 9.5, 10);
        Assert.InRange(made.Amount(made.Times.Count - 1, 0), 20, 20 * 50);
        for (var row = 0; row < made.Times.Count; row++)
            Assert.Equal(1, made.Amount(row, 0) * (1 - made.Times[row] / 10), 1e-4);
    }

    [Theory]
    [InlineData("A -> : 1 / A; A(0) = 1", "no step is short enough to follow A there")]
    [InlineData("A -> : 2 * A; A(0) = 10; B -> : B / (A - 3.7); B(0) = 1", "B")]
    public void What_no_step_is_short_enough_for_is_not_called_growth(string lines, string says)
    {
        var run = Of(lines);
        Assert.NotNull(run.Failure);
        Assert.Contains(says, run.Failure, StringComparison.Ordinal);
        Assert.DoesNotContain("without bound", run.Failure, StringComparison.Ordinal);
        Assert.True(run.Run!.Times.Count > 3, "The part before is not there.");
    }

    [Fact]
    public void A_formula_without_a_value_is_named_with_what_it_was_made_of()
    {
        var flow = Of("A -> : 1; A(0) = 5; -> B : sqrt(A)");
        Assert.Contains("the flow outside → B has no finite rate there", flow.Failure, StringComparison.Ordinal);
        Assert.InRange(flow.Run!.Times[^1], 4.9, 5.1);
    }

    [Fact]
    public void An_event_that_gives_no_number_is_named()
    {
        var run = Of("A -> : 0 * A; A(0) = 5; k = 0; at 20: A = 1 / k");
        Assert.Contains(
            "the event “at 20: A = 1 / k” gives a number there that is infinite or none",
            run.Failure,
            StringComparison.Ordinal
        );
        Assert.Equal(20, run.Run!.Times[^1]);
        var value = Of("A -> : beta * A; beta = 1; A(0) = 5; at 20: beta = ln(-1)");
        Assert.Contains("the event “at 20: beta = ln(-1)”", value.Failure, StringComparison.Ordinal);
    }

    [Fact]
    public void What_falls_below_zero_and_must_not_leaves_the_part_before()
    {
        var document = Studies.Of("A -> : 2; A(0) = 10");
        var run = StudyRun.Of(document.With(document.Compartments[0] with { NeverBelowZero = true }));
        Assert.Contains("A fell below zero", run.Failure, StringComparison.Ordinal);
        Assert.InRange(run.Run!.Times[^1], 4.9, 6);
    }

    [Fact]
    public void A_step_that_is_too_long_is_named_beside_what_it_did()
    {
        var run = Of("A -> : A^3; A(0) = 10", 100, new SolverChoice(Method.Euler, 1, 1e-8));
        Assert.Contains("It may be the step", run.Failure, StringComparison.Ordinal);
    }

    [Fact]
    public void A_share_that_leaves_its_range_keeps_the_rows_before()
    {
        var run = Of("A -> B 0.1 * t, C the rest at 0.01; A(0) = 10");
        Assert.Contains("a share lies between 0 and 1", run.Failure, StringComparison.Ordinal);
        Assert.InRange(run.Run!.Times[^1], 9, 10);
    }
}
