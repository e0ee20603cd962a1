using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Analysis;

public class ValueRunsTests
{
    [Theory]
    [InlineData(Spacing.Linear, "1", "3", "5", "", new[] { 1, 1.5, 2, 2.5, 3 })]
    [InlineData(Spacing.Log, "1", "100", "3", "", new[] { 1.0, 10, 100 })]
    [InlineData(Spacing.Linear, "2", "9", "1", "", new[] { 2.0 })]
    [InlineData(Spacing.List, "", "", "", "0.5, 0.1;7", new[] { 0.5, 0.1, 7 })]
    public void Ranges_are_read(Spacing spacing, string from, string to, string count, string list, double[] expected)
    {
        var (values, problem) = ValueSteps.Read(spacing, from, to, count, list);
        Assert.Null(problem);
        Assert.Equal(expected.Length, values!.Length);
        // A power is good to a few units of rounding.
        for (var k = 0; k < expected.Length; k++)
            Assert.Equal(expected[k], values[k], 1e-14 * expected[k]);
    }

    [Theory]
    [InlineData(Spacing.Linear, "", "3", "5", "", "two numbers")]
    [InlineData(Spacing.Linear, "1", "3", "10000000", "", "is the limit")]
    [InlineData(Spacing.Linear, "1", "3", "2.5", "", "whole number")]
    [InlineData(Spacing.Linear, "1", "1", "5", "", "nothing to vary")]
    [InlineData(Spacing.Log, "0", "1", "5", "", "above zero")]
    [InlineData(Spacing.List, "", "", "", "", "separated by commas")]
    [InlineData(Spacing.List, "", "", "", "1, x", "“x” is no number")]
    public void Ranges_that_cannot_be_are_told(Spacing spacing, string from, string to, string count, string list, string words)
    {
        var (values, problem) = ValueSteps.Read(spacing, from, to, count, list);
        Assert.Null(values);
        Assert.Contains(words, problem);
    }

    [Fact]
    public void Outcomes_of_runs_are_those_of_the_closed_form()
    {
        var lowered = Lowering.Lower(Studies.Of("A(0) = 100; k = 0.1 per day; A -> B at k; B -> at 0.05 per day", 80));
        var runs = new ValueRuns(lowered, ["k"], new(lowered.Document.CompartmentBySymbol("B")!.Id, OutcomeKind.MaximumTime));
        foreach (var k in new[] { 0.07, 0.2, 1.0 })
        {
            var run = runs.Run([k], withCurve: true);
            // The intermediate of a chain peaks at ln(k / m) / (k - m); the top of a curve is flat, so that its time has half the digits
            // of 1e-8.
            Assert.Equal(Math.Log(k / 0.05) / (k - 0.05), run.Outcome, 1e-3);
            Assert.Equal(100 * k / (k - 0.05) * (Math.Exp(-0.05 * 80) - Math.Exp(-k * 80)), run.Curve![^1], 1e-5);
        }
    }

    [Fact]
    public void A_run_that_fails_says_why_and_the_others_go_on()
    {
        var lowered = Lowering.Lower(Studies.Of("A(0) = 1; k = 0.1; -> A : k * A ^ 2", 20));
        var runs = new ValueRuns(lowered, ["k"], new(lowered.Document.Compartments[0].Id, OutcomeKind.Final));
        Assert.NotNull(runs.Run([2], false).Failure);
        // A / (1 - k A t) with k t = 0.2.
        Assert.Equal(1.25, runs.Run([0.01], false).Outcome, 1e-6);
    }

    [Fact]
    public void What_is_no_longer_in_the_model_is_told()
    {
        var lowered = Lowering.Lower(Studies.Of("A(0) = 1; A -> at 0.1", 20));
        Assert.Contains(
            "no value",
            Assert.Throws<ArgumentException>(() => new ValueRuns(lowered, ["beta"], new("c1", OutcomeKind.Final))).Message
        );
        Assert.Contains(
            "no longer in the model",
            Assert.Throws<ArgumentException>(() => new ValueRuns(lowered, [], new("nothing", OutcomeKind.Final))).Message
        );
    }
}
