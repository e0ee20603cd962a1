using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

public class DelayTests
{
    [Theory]
    [InlineData(Method.Adaptive)]
    [InlineData(Method.RungeKutta4)]
    public void A_delayed_decay_follows_the_method_of_steps(Method method)
    {
        // y' = -y(t - 1) with y = 1 before the start: polynomials from step to step (Hairer, Nørsett, Wanner I, II.17).
        var document = Studies.Of("Y -> : delay(Y, 1 day); Y(0) = 1", 4);
        var run = Runs.Run(
            new(Lowering.Lower(document).Network),
            [0, 0.5, 1, 2, 3, 4],
            SolverSettings.Default with
            {
                Method = method,
                Step = 0.05,
            }
        );
        double[] exact = [1, 0.5, 0, 1 - 2 + 0.5, 1 - 3 + 2 - 1.0 / 6, 1 - 4 + 4.5 - 8.0 / 6 + 1.0 / 24];
        // Both methods are exact for polynomials of this degree but for rounding.
        for (var k = 0; k < exact.Length; k++)
            Assert.Equal(exact[k], run.Amount(k, 0), 1e-8);
    }

    [Fact]
    public void A_history_may_be_stated()
    {
        // Nothing leaves for a day; then what leaves is 1 a day, until the fall itself arrives.
        var run = Runs.OfLines("Y -> : delay(Y, 1 day, 0); Y(0) = 1", 0, 1, 1.5, 2);
        Assert.Equal(1, run.Amount(1, 0), 1e-9);
        Assert.Equal(0.5, run.Amount(2, 0), 1e-8);
        Assert.Equal(0, run.Amount(3, 0), 1e-8);
    }

    [Fact]
    public void A_jump_comes_back_after_the_delay()
    {
        var run = Runs.OfLines("A -> : 0 * A; B -> : 0 * B; late = delay(A, 3 days); at 2: A = 10; A(0) = 4", 0, 1.9, 2.5, 4.9, 5.1);
        Assert.Equal([4, 4, 4, 4, 10], run.QuantityColumn(0), Near);
    }

    [Fact]
    public void Delays_nest()
    {
        var run = Runs.OfLines("-> A : 1; late = delay(A, 1 day); later = delay(late, 1 day); A(0) = 5", 0, 0.5, 1.5, 3);
        Assert.Equal([5, 5, 5.5, 7], run.QuantityColumn(0), Near);
        Assert.Equal([5, 5, 5, 6], run.QuantityColumn(1), Near);
    }

    private static bool Near(double a, double b) => Math.Abs(a - b) < 1e-7;

    [Fact]
    public void Smoothing_answers_a_jump_with_the_erlang_curve()
    {
        var run = Runs.OfLines("A -> : 0 * A; soft = smooth(A, 4 days); softer = smooth(A, 4 days, 2); at 10: A = 10; A(0) = 2", 0, 9, 14);
        Assert.Equal(2, run.QuantityColumn(0)[1], 1e-9);
        Assert.Equal(2 + 8 * (1 - Math.Exp(-1)), run.QuantityColumn(0)[2], 1e-7);
        // Two stages of two days each: 1 - e^-2 (1 + 2).
        Assert.Equal(2 + 8 * (1 - 3 * Math.Exp(-2)), run.QuantityColumn(1)[2], 1e-7);
    }

    [Fact]
    public void A_delay_of_no_time_is_told()
    {
        var lowered = Lowering.Lower(Studies.Of("Y -> : delay(Y, 0 days); Y(0) = 1"));
        Assert.Contains(lowered.Findings, finding => finding.Message.Contains("a time above zero"));
    }
}
