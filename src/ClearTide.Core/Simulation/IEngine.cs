namespace ClearTide.Core.Simulation;

/// <summary>Makes runs of one kind: in continuous time, in discrete steps, or by chance.</summary>
public interface IEngine
{
    /// <param name="request">What is run.</param>
    /// <param name="observer">Follows the run from step to step, or null.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <returns>The run at its output times.</returns>
    /// <exception cref="ArgumentException">The engine does not run models of this kind.</exception>
    /// <exception cref="SimulationException">The run could not go on; it holds what there was before.</exception>
    Trajectory Run(RunRequest request, ISegmentObserver? observer = null, CancellationToken cancel = default);
}

/// <summary>The engines.</summary>
/// <example>
/// <code>
/// IEngine engine = Engines.For(request.Model);
/// Trajectory run = engine.Run(request);
/// Trajectory stiff = engine.Run(request with { Settings = request.Settings with { Method = Method.Stiff } });
/// </code>
/// </example>
public static class Engines
{
    /// <summary>Differential equations, with whatever jumps in them.</summary>
    internal static IEngine Continuous { get; } = new ContinuousEngine();

    /// <summary>Difference equations.</summary>
    public static IEngine Discrete { get; } = new DiscreteEngine();

    /// <summary>The engine without chance that a model is written for.</summary>
    /// <param name="model">The compiled model.</param>
    public static IEngine For(CompiledModel model) => model.Network.DiscreteStep > 0 ? Discrete : Continuous;

    /// <summary>Runs a model by the engine without chance that it is written for.</summary>
    /// <inheritdoc cref="IEngine.Run"/>
    public static Trajectory Run(RunRequest request, ISegmentObserver? observer = null, CancellationToken cancel = default) =>
        For(request.Model).Run(request, observer, cancel);
}
