namespace ClearTide.Core.Simulation;

public enum FailureReason { NotFinite, StepTooSmall, TooManySteps, NegativeRate }

/// <summary>A run that could not go on: why, when, and the state it had reached. The caller puts it into words.</summary>
public sealed class SimulationException(FailureReason reason, double time, double[] state, double[] parameters)
    : Exception($"The run stopped at {time}: {reason}.")
{
    public FailureReason Reason { get; } = reason;

    public double Time { get; } = time;

    public double[] State { get; } = state;

    public double[] Parameters { get; } = parameters;
}
