namespace ClearTide.Core.Simulation;

/// <summary>One run, as it is asked for. Every run in Clear Tide is made from one of these, by one of the engines.</summary>
/// <param name="Model">What is run.</param>
/// <param name="Values">All parameters of the model's network: its values, in the study's units, then its slots.</param>
/// <param name="Times">Ascending output times; the run spans from the first to the last.</param>
/// <example>
/// <code>
/// var lowered = Lowering.Lower(study);
/// var request = new RunRequest(lowered.Compiled, lowered.Network.ValueVector(), OutputTimes.Every(0, 10, 1))
/// {
///     Settings = SolverSettings.Default with { RelativeTolerance = 1e-10, AbsoluteTolerance = 1e-11 },
/// };
/// Trajectory run = Engines.Run(request);
/// double left = run.Amount(10, 0); // at the time of row 10, of compartment 0
/// </code>
/// </example>
public sealed record RunRequest(CompiledModel Model, double[] Values, double[] Times)
{
    /// <summary>The state at the first time, in the order of the network's states; null for the model's own start.</summary>
    public double[]? Start { get; init; }

    /// <summary>
    /// The end of a run that this one goes on from: with its <see cref="Start"/> there, its parameters for <see cref="Values"/>, and what
    /// was
    /// still to happen. For runs by chance; null for a run that begins.
    /// </summary>
    public RunEnd? After { get; init; }

    /// <summary>What is laid over the model; null for nothing.</summary>
    public Plan? Plan { get; init; }

    /// <summary>Method and accuracy of a deterministic run.</summary>
    public SolverSettings Settings { get; init; } = SolverSettings.Default;

    /// <summary>Whether the absolute tolerance is taken for amounts of the size of the start, where they are below one.</summary>
    public bool ScaleToStart { get; init; }

    /// <summary>Which rows the result has besides the output times.</summary>
    public Rows Rows { get; init; }

    /// <summary>Names the random numbers of a chance run.</summary>
    public long Seed { get; init; }

    /// <summary>Which run under the seed, for chance and for random inputs.</summary>
    public int Replicate { get; init; }

    /// <summary>The values over time.</summary>
    internal ParameterSchedule Schedule => Plan?.Over(Values) ?? ParameterSchedule.Constant(Values);

    /// <summary>The state that the run starts with.</summary>
    /// <exception cref="SimulationException">The model has no start at these values.</exception>
    public double[] InitialState() => Start ?? Model.InitialState(Schedule.At(Times[0]), Times[0], Replicate);
}
