namespace ClearTide.Core.Simulation;

/// <summary>How a run is computed.</summary>
public enum Method
{
    /// <summary>Adaptive, and the stiff method where stiffness is met.</summary>
    Automatic,

    /// <summary>Dormand–Prince 5(4).</summary>
    Adaptive,

    /// <summary>A Rosenbrock pair 4(3) with the exact Jacobian.</summary>
    Stiff,

    /// <summary>The classical method of order 4 at a fixed step.</summary>
    RungeKutta4,

    /// <summary>The explicit midpoint method of order 2 at a fixed step.</summary>
    Midpoint,

    /// <summary>The explicit Euler method of order 1 at a fixed step.</summary>
    Euler,

    /// <summary>No differential equation: amounts change from one step to the next by what flows say for a step.</summary>
    Discrete,
}

/// <summary>What methods are called.</summary>
public static class Methods
{
    /// <summary>All methods.</summary>
    public static IReadOnlyList<Method> All { get; } = Enum.GetValues<Method>();

    /// <summary>A method as the screens call it.</summary>
    /// <param name="method">The method.</param>
    public static string Name(this Method method) =>
        method switch
        {
            Method.Automatic => "automatic",
            Method.Adaptive => "adaptive",
            Method.Stiff => "stiff",
            Method.RungeKutta4 => "Runge–Kutta 4",
            Method.Midpoint => "midpoint",
            Method.Euler => "Euler",
            _ => "discrete steps",
        };
}
