using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

public class OrderTests
{
    private const string Logistic = "-> P : 0.5 * P * (1 - P / 1000); P(0) = 10";

    private static double Exact(double t) => 1000 / (1 + 99 * Math.Exp(-0.5 * t));

    [Fact]
    public void Runge_Kutta_has_order_four()
    {
        double Error(double step) =>
            Math.Abs(Runs.Final(Logistic, "P", 10, SolverSettings.Default with { Method = Method.RungeKutta4, Step = step }) - Exact(10));
        var order = Math.Log2(Error(0.2) / Error(0.1));
        // Leading error terms alone would give 4; at these steps the next ones move it by a few hundredths.
        Assert.InRange(order, 3.8, 4.2);
    }

    [Fact]
    public void Dormand_Prince_error_follows_the_tolerance()
    {
        double Error(double tolerance) =>
            Math.Abs(
                Runs.Final(Logistic, "P", 10, SolverSettings.Default with { RelativeTolerance = tolerance, AbsoluteTolerance = tolerance })
                    - Exact(10)
            ) / Exact(10);
        // Error per step control of a fifth-order step: a hundredth of the tolerance gives about a hundredth of the error.
        foreach (var tolerance in new[] { 1e-4, 1e-6, 1e-8, 1e-10 })
            Assert.InRange(Error(tolerance), 0, 20 * tolerance);
        Assert.True(Error(1e-10) < Error(1e-4) / 1000);
    }

    [Fact]
    public void Dormand_Prince_has_order_five_when_the_step_is_forced()
    {
        double Error(double step)
        {
            var model = Runs.Compile(Logistic);
            // So loose a tolerance never rejects, and limits cut every step to the same length.
            var stepper = new DormandPrince(model.RightHandSide, 1, model.Network.Values.Count, new(1e6, [1e6], 1));
            stepper.Start(0, [10], model.Network.ValueVector());
            // The cautious first steps are taken on a fine grid, so that they add no error of their own.
            for (var k = 1; k <= 1000; k++)
                stepper.Step(k * 0.001);
            for (var k = 1; k <= Math.Round(9 / step); k++)
            {
                while (stepper.Time < 1 + k * step)
                    stepper.Step(1 + k * step);
            }
            return Math.Abs(stepper.State[0] - Exact(10));
        }
        Assert.InRange(Math.Log2(Error(0.25) / Error(0.125)), 4.6, 5.4);
    }

    [Theory]
    [InlineData(Method.Midpoint, 2)]
    [InlineData(Method.Euler, 1)]
    public void Fixed_steps_have_their_order(Method method, double expected)
    {
        double Error(double step) =>
            Math.Abs(Runs.Final(Logistic, "P", 10, SolverSettings.Default with { Method = method, Step = step }) - Exact(10));
        // At these steps the second term of the error expansion still moves the quotient by some hundredths.
        Assert.InRange(Math.Log2(Error(0.005) / Error(0.0025)), expected - 0.1, expected + 0.1);
    }

    [Fact]
    public void The_stiff_method_has_order_four_when_the_step_is_forced()
    {
        // With a rate that depends on time the logistic curve runs in its own time, the integral of the rate.
        const string lines = "-> P : 0.5 * P * (1 - P / 1000) * (1 + 0.5 * sin(t)); P(0) = 10";
        static double Own(double t) => t + 0.5 * (1 - Math.Cos(t));
        double Error(double step)
        {
            var model = Runs.Compile(lines);
            var stepper = new Rosenbrock(model.RightHandSide, model.Jacobian(), 1, model.Network.Values.Count, new(1e6, [1e6], 1));
            stepper.Start(0, [10], model.Network.ValueVector());
            for (var k = 1; k <= 1000; k++)
                stepper.Step(k * 0.001);
            for (var k = 1; k <= Math.Round(9 / step); k++)
            {
                while (stepper.Time < 1 + k * step)
                    stepper.Step(1 + k * step);
            }
            return Math.Abs(stepper.State[0] - Exact(Own(10)));
        }
        // The next term of the error expansion moves the quotient while steps are this long; it has died away at half of them.
        Assert.InRange(Math.Log2(Error(0.05) / Error(0.025)), 3.8, 4.3);
    }

    [Theory]
    [InlineData(Method.Stiff, 3e-5)]
    [InlineData(Method.Adaptive, 1e-5)]
    [InlineData(Method.RungeKutta4, 1e-4)]
    public void Continuous_output_is_as_good_as_the_steps(Method method, double relative)
    {
        // The interpolants are one order below their steps: a digit is allowed for that.
        var model = Runs.Compile(Logistic);
        var run = Runs.Run(
            model,
            OutputTimes.Every(0, 20, 0.0137),
            SolverSettings.Default with
            {
                Method = method,
                Step = 0.25,
                RelativeTolerance = 1e-6,
                AbsoluteTolerance = 1e-6,
            }
        );
        for (var k = 0; k < run.Times.Count; k++)
            Assert.Equal(Exact(run.Times[k]), run.State(k, 0), Exact(run.Times[k]) * relative);
    }
}
