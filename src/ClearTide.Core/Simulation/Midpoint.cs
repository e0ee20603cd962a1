using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>The explicit midpoint method, of order 2 (Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I, 2nd ed., II.1,
/// formula 1.4).</summary>
/// <param name="f">The right-hand side: one slope for each state.</param>
/// <param name="dimension">Number of states, at least 1.</param>
/// <param name="parameterCount">Number of parameters.</param>
/// <param name="step">The step in the unit of time, above zero.</param>
public sealed unsafe class Midpoint(VectorFunction f, int dimension, int parameterCount, double step)
    : FixedStep(f, dimension, parameterCount, step, 1)
{
    /// <inheritdoc/>
    protected override double Advance(double start, double end)
    {
        var h = end - start;
        for (var i = 0; i < N; i++)
            Stage[i] = Y[i] + 0.5 * h * First[i];
        double* middle = Slope(0),
            y = Y,
            before = Before;
        F(start + 0.5 * h, Stage, P, middle);
        var mark = 0.0;
        for (var i = 0; i < N; i++)
            mark += Take(y, before, i, h * middle[i]);
        return mark;
    }
}
