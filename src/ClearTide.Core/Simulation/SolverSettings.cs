namespace ClearTide.Core.Simulation;

/// <summary>How to solve: method, step of calculation (fixed-step methods), tolerances (adaptive methods), and the bound on
/// steps.</summary>
public sealed record SolverSettings
{
    /// <summary>By which method.</summary>
    public Method Method { get; init; } = Method.Automatic;

    /// <summary>In units of time.</summary>
    public double Step { get; init; } = 0.25;

    /// <summary>Error allowed in a step, as a share of the amounts.</summary>
    public double RelativeTolerance { get; init; } = 1e-8;

    /// <summary>In the units of the states.</summary>
    public double AbsoluteTolerance { get; init; } = 1e-9;

    /// <summary>One absolute tolerance for each state, in place of the one for all; or null.</summary>
    public IReadOnlyList<double>? AbsoluteTolerances { get; init; }

    /// <summary>A run that takes more steps is stopped.</summary>
    public int MaximumSteps { get; init; } = 2_000_000;

    /// <summary>These with an absolute tolerance for amounts of the size that a run starts with, where that is below one: of a millionth
    /// part of a mole it is a millionth.</summary>
    /// <param name="initial">The state at the start, one value for each.</param>
    public SolverSettings ScaledTo(ReadOnlySpan<double> initial)
    {
        var largest = 0.0;
        foreach (var amount in initial)
            largest = Math.Max(largest, Math.Abs(amount));
        return largest is > 0 and < 1 && AbsoluteTolerances is null ? this with { AbsoluteTolerance = AbsoluteTolerance * largest } : this;
    }

    /// <summary>Whether the method chooses its steps by their error.</summary>
    public bool IsAdaptive => Method is Method.Automatic or Method.Adaptive or Method.Stiff;

    /// <summary>The settings of a run for which none are given.</summary>
    public static readonly SolverSettings Default = new();
}
