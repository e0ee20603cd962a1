using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>Makes steppers.</summary>
internal static class Steppers
{
    /// <summary>The stepper that the settings ask for.</summary>
    /// <param name="f">The right-hand side.</param>
    /// <param name="jacobian">Makes the Jacobian of <paramref name="f"/> for the methods that want it.</param>
    /// <param name="dimension">How many states there are.</param>
    /// <param name="parameterCount">How many parameters there are.</param>
    /// <param name="settings">Method, step and accuracy.</param>
    public static Stepper Create(VectorFunction f, Func<Jacobian> jacobian, int dimension, int parameterCount, SolverSettings settings)
    {
        Tolerances Tolerances() => new(settings.RelativeTolerance, settings.AbsoluteTolerances ?? [settings.AbsoluteTolerance], dimension);
        return settings.Method switch
        {
            Method.RungeKutta4 => new RungeKutta4(f, dimension, parameterCount, settings.Step),
            Method.Midpoint => new Midpoint(f, dimension, parameterCount, settings.Step),
            Method.Euler => new Euler(f, dimension, parameterCount, settings.Step),
            Method.Discrete => new DiscreteSteps(f, dimension, parameterCount, settings.Step),
            Method.Stiff => new Rosenbrock(f, jacobian(), dimension, parameterCount, Tolerances()),
            Method.Adaptive => new DormandPrince(f, dimension, parameterCount, Tolerances()),
            _ => new Automatic(f, jacobian, dimension, parameterCount, Tolerances()),
        };
    }
}
