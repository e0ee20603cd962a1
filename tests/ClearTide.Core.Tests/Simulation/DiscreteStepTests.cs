using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>Difference equations: a flow is the amount per step, or a compartment is given its next value.</summary>
public class DiscreteStepTests
{
    private static StudyDocument Study(string lines, double step = 1, double end = 10)
    {
        var document = new SetSolver(Method.Discrete, step, 1e-8).Apply(new StudyDocument { Title = "Test", End = end }).Document!;
        return Studies.Of(lines, document);
    }

    private static Trajectory Run(string lines, double step = 1, double end = 10, double every = 0)
    {
        var lowered = Lowering.Lower(Study(lines, step, end));
        Assert.DoesNotContain(lowered.Findings, finding => finding.Severity == Severity.Unfinished);
        return Runs.Run(new(lowered.Network), OutputTimes.Every(0, end, every > 0 ? every : step));
    }

    private static double[] Amounts(Trajectory run, string symbol) =>
        run.AmountColumn(run.Network.Amounts.ToList().FindIndex(amount => amount.Symbol == symbol));

    [Fact]
    public void A_share_that_leaves_each_step_gives_powers()
    {
        var run = Run("A -> B at 20%; A(0) = 1000");
        // 1000 * 0.8^k: each step is one rounding, so that ten steps agree to 1e-13 of it.
        for (var k = 0; k <= 10; k++)
            Assert.Equal(1000 * Math.Pow(0.8, k), Amounts(run, "A")[k], 1e-10);
    }

    [Fact]
    public void A_whole_formula_is_the_amount_per_step_as_written()
    {
        var run = Run("-> A : 7; A(0) = 3", step: 0.5, end: 5);
        for (var k = 0; k <= 10; k++)
            Assert.Equal(3 + 7 * k, Amounts(run, "A")[k]);
    }

    [Fact]
    public void A_mean_stay_leaves_its_inverse_per_step_counted_in_steps()
    {
        // Six days are three steps of two days: a third leaves each step.
        var run = Run("A -> B after 6 days; A(0) = 81", step: 2, end: 8);
        Assert.Equal([81, 54, 36, 24, 16], Amounts(run, "A").Select(amount => Math.Round(amount, 9)));
    }

    [Fact]
    public void Stages_each_pass_on_their_share_of_a_step()
    {
        // Two stages of three days in steps of three: the first step fills stage two, the second empties it.
        var run = Run("A -> B after 6 days in 2 stages; A(0) = 10", step: 3, end: 9);
        Assert.Equal([10, 10, 0, 0], Amounts(run, "A").Select(amount => Math.Round(amount, 9)));
    }

    [Fact]
    public void Next_values_follow_a_published_map()
    {
        // The logistic map at 4 has the closed form sin^2(2^k asin(sqrt(x0))) (May, Nature 261, 1976).
        var run = Run("next x = 4 * x * (1 - x); x(0) = 0.3");
        var angle = Math.Asin(Math.Sqrt(0.3));
        // The map doubles an error each step: ten steps turn 1e-16 into about 1e-13.
        for (var k = 0; k <= 10; k++)
            Assert.Equal(Math.Pow(Math.Sin(Math.Pow(2, k) * angle), 2), Amounts(run, "x")[k], 1e-11);
    }

    [Fact]
    public void All_next_values_are_taken_at_the_beginning_of_the_step()
    {
        var run = Run("next a = b; next b = a + b; a(0) = 0; b(0) = 1", end: 12);
        Assert.Equal(144, Amounts(run, "a")[12]);
    }

    [Fact]
    public void Between_steps_amounts_are_held()
    {
        var run = Run("A -> at 50%; A(0) = 8", end: 3, every: 0.25);
        Assert.Equal([8, 8, 8, 8, 4, 4, 4, 4, 2, 2, 2, 2, 1], Amounts(run, "A"));
    }

    [Fact]
    public void Limited_exits_share_what_a_step_begins_with()
    {
        // 10 are there; the free exit takes 4 of them, and 6 are asked for 3 and 9 in proportion: 1.5 and 4.5.
        var run = Run("A -> F : 0.4 * A; A -> B : 3 limited; A -> C : 9 limited; A(0) = 10", end: 2);
        Assert.Equal(
            (0, 1.5, 4.5, 4.0),
            (
                Math.Round(Amounts(run, "A")[1], 12),
                Math.Round(Amounts(run, "B")[1], 12),
                Math.Round(Amounts(run, "C")[1], 12),
                Math.Round(Amounts(run, "F")[1], 12)
            )
        );
        Assert.Equal(10, Amounts(run, "B")[2] + Amounts(run, "C")[2] + Amounts(run, "F")[2], 1e-12);
    }

    [Fact]
    public void An_event_on_a_step_acts_before_the_step_is_taken()
    {
        var run = Run("A -> at 50%; A(0) = 8; at 2: A = A + 10", end: 3);
        // 8, 4, then 2 and 10 more, of which half stays.
        Assert.Equal([8, 4, 12, 6], Amounts(run, "A"));
    }

    [Fact]
    public void A_condition_that_turns_at_each_step_is_no_chatter()
    {
        var run = Run("next x = if(x > 0, -1, 1); x(0) = 1; seen = if(x > 0, 5, 7)", end: 40);
        Assert.Equal([.. Enumerable.Range(0, 41).Select(k => k % 2 == 0 ? 1.0 : -1.0)], Amounts(run, "x"));
        Assert.Empty(run.Notes);
    }

    [Fact]
    public void A_smoothed_quantity_moves_its_share_of_a_step()
    {
        // From 0 towards 1 with a lag of four days, in steps of one: 1 - 0.75^k.
        var run = Run("-> x : if(t < 0.5, 1, 0); x(0) = 0; s = smooth(x, 4 days)", end: 6);
        var s = run.QuantityColumn(run.Network.Quantities.ToList().FindIndex(quantity => quantity.Symbol == "s"));
        for (var k = 1; k <= 6; k++)
            Assert.Equal(1 - Math.Pow(0.75, k - 1), s[k], 1e-12);
    }

    [Fact]
    public void A_delay_of_whole_steps_reaches_back_that_many()
    {
        // x(k + 1) = x(k) + x(k - 2), with ones before the start: 1, 2, 3, 4, 6, 9, 13, 19 (Narayana's cows).
        var run = Run("-> x : delay(x, 2 days, 1); x(0) = 1", end: 7);
        Assert.Equal([1, 2, 3, 4, 6, 9, 13, 19], Amounts(run, "x").Select(amount => Math.Round(amount, 9)));
    }

    [Fact]
    public void A_stay_shorter_than_a_step_is_told_with_a_step_that_fits()
    {
        var finding = Assert.Single(Lowering.Lower(Study("A -> B after 2 days; A(0) = 5", step: 4)).Findings);
        Assert.Contains("shorter than a step", finding.Message, StringComparison.Ordinal);
        Assert.Equal(2, finding.Fixes[0].Edit.Apply(Study("A(0) = 5", step: 4)).Document!.Solver.Step);
    }

    [Theory]
    [InlineData("-> A : lay; lay = 10 people per day; A(0) = 0 people", "A", 140)]
    [InlineData("A -> B at 0.05 per day; A(0) = 1000 people", "A", 1000 * 0.65 * 0.65)]
    public void A_flow_said_by_time_is_told_where_a_step_is_not_one_unit_of_it(string lines, string symbol, double mended)
    {
        var document = Study(lines, step: 7, end: 14);
        var finding = Assert.Single(Lowering.Lower(document).Findings);
        Assert.Contains("a step of 7 days moves", finding.Message, StringComparison.Ordinal);
        var lowered = Lowering.Lower(finding.Fixes[0].Edit.Apply(document).Document!);
        Assert.Empty(lowered.Findings);
        var run = Runs.Run(new(lowered.Network), [0, 14]);
        Assert.Equal(mended, Amounts(run, symbol)[1], 1e-9);
        Assert.Empty(Lowering.Lower(Study(lines, step: 1, end: 14)).Findings);
    }

    [Fact]
    public void A_next_value_in_continuous_time_is_told()
    {
        var lowered = Lowering.Lower(Studies.Of("next x = 2 * x; x(0) = 1"));
        var finding = Assert.Single(lowered.Findings);
        Assert.Contains("discrete steps", finding.Message, StringComparison.Ordinal);
        Assert.True(finding.Fixes[0].Edit.Apply(lowered.Document).Document!.Solver.IsDiscrete);
    }

    [Fact]
    public void Renaming_reaches_next_values()
    {
        var document = Study("next N = r * N; r = 1.5; N(0) = 2");
        var renamed = new SetField(document.DefinitionBySymbol("r")!.Id, PartField.Symbol, "growth").Apply(document).Document!;
        Assert.Equal("growth * N", renamed.CompartmentBySymbol("N")!.Next);
    }

    [Theory]
    [InlineData(0, 1e-8, "above zero")]
    [InlineData(11, 1e-8, "longer than the span")]
    [InlineData(1e-6, 1e-8, "limit")]
    [InlineData(1, 1, "tolerance")]
    public void Steps_and_tolerances_that_cannot_be_are_refused(double step, double tolerance, string why)
    {
        var refusal = new SetSolver(Method.RungeKutta4, step, tolerance).Apply(new StudyDocument { Title = "Test", End = 10 }).Refusal;
        Assert.Contains(why, refusal, StringComparison.OrdinalIgnoreCase);
    }
}
