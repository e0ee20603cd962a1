using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>Euler's method, of order 1 (Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I, 2nd ed., I.7).</summary>
/// <param name="f">The right-hand side: one slope for each state.</param>
/// <param name="dimension">Number of states, at least 1.</param>
/// <param name="parameterCount">Number of parameters.</param>
/// <param name="step">The step in the unit of time, above zero.</param>
public sealed unsafe class Euler(VectorFunction f, int dimension, int parameterCount, double step)
    : FixedStep(f, dimension, parameterCount, step, 0)
{
    /// <inheritdoc/>
    protected override double Advance(double start, double end)
    {
        double* y = Y,
            before = Before;
        var (mark, h) = (0.0, end - start);
        for (var i = 0; i < N; i++)
            mark += Take(y, before, i, h * First[i]);
        return mark;
    }
}
