namespace ClearTide.Core.Simulation;

/// <summary>Why a run cannot go on.</summary>
public enum FailureReason
{
    /// <summary>Something is infinite or no number.</summary>
    NotFinite,

    /// <summary>No step is short enough.</summary>
    StepTooSmall,

    /// <summary>The steps would be too many.</summary>
    TooManySteps,

    /// <summary>A delay is not a time above zero.</summary>
    BadDelay,

    /// <summary>The numbers of a random input make no distribution, or its interval no time.</summary>
    BadDraw,

    /// <summary>A compartment that must not fell below zero.</summary>
    BelowZero,

    /// <summary>A watched expression left the range it must stay in.</summary>
    OutOfRange,

    /// <summary>Equations that determine some numbers have no solution; the part is their name.</summary>
    NoSolution,

    /// <summary>No equilibrium was found for the states that start at one.</summary>
    NoEquilibrium,

    /// <summary>An event was to take more than was there, and to stop the run then.</summary>
    RanShort,

    /// <summary>An event gave an amount or a value that is infinite or no number.</summary>
    BadAction,

    /// <summary>Events set off one another at one instant without end.</summary>
    EventsWithoutEnd,
}

/// <summary>A run that could not go on: why, when, and the state it had reached. The caller puts it into words.</summary>
/// <param name="reason">Why it stopped.</param>
/// <param name="time">In the unit of the run.</param>
/// <param name="state">One value for each state of the network, where it stopped.</param>
/// <param name="parameters">One value for each parameter of the network.</param>
public sealed class SimulationException(FailureReason reason, double time, double[] state, double[] parameters)
    : Exception($"The run stopped at {time}: {reason}.")
{
    /// <summary>Why it could not go on.</summary>
    public FailureReason Reason { get; } = reason;

    /// <summary>Where it stopped, in the study's unit of time.</summary>
    public double Time { get; } = time;

    /// <summary>The state vector there.</summary>
    public double[] State { get; } = state;

    /// <summary>The parameter vector there.</summary>
    public double[] Parameters { get; } = parameters;

    /// <summary>The state or the watched range that is to blame, where the reason names one; else -1.</summary>
    public int Index { get; init; } = -1;

    /// <summary>The part that is to blame, where the reason names one; else empty.</summary>
    public string PartId { get; init; } = "";

    /// <summary>What the run came to before it stopped; null where it never began.</summary>
    public Trajectory? Before { get; internal set; }
}
