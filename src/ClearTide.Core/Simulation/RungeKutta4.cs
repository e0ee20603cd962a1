using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>The classic fourth-order Runge–Kutta method (Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I, 2nd ed.,
/// II.1, table 1.2).</summary>
/// <param name="f">The right-hand side: one slope for each state.</param>
/// <param name="dimension">Number of states, at least 1.</param>
/// <param name="parameterCount">Number of parameters.</param>
/// <param name="step">The step in the unit of time, above zero.</param>
public sealed unsafe class RungeKutta4(VectorFunction f, int dimension, int parameterCount, double step)
    : FixedStep(f, dimension, parameterCount, step, 3)
{
    /// <inheritdoc/>
    protected override double Advance(double start, double end)
    {
        var h = end - start;
        int n = N;
        double* y = Y,
            k1 = First,
            k2 = Slope(0),
            k3 = Slope(1),
            k4 = Slope(2),
            stage = Stage,
            before = Before,
            p = P;
        var half = 0.5 * h;
        for (var i = 0; i < n; i++)
            stage[i] = y[i] + half * k1[i];
        F(start + half, stage, p, k2);
        for (var i = 0; i < n; i++)
            stage[i] = y[i] + half * k2[i];
        F(start + half, stage, p, k3);
        for (var i = 0; i < n; i++)
            stage[i] = y[i] + h * k3[i];
        F(end, stage, p, k4);
        var sixth = h / 6;
        var mark = 0.0;
        for (var i = 0; i < n; i++)
            mark += Take(y, before, i, sixth * (k1[i] + 2 * (k2[i] + k3[i]) + k4[i]));
        return mark;
    }
}
