using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// Runs a model by the exact law of chance: whole units wait their times, and what is not counted flows between them. An instance serves
/// one
/// thread and is quickest for one model after the same model; a run depends on nothing but its request.
/// </summary>
internal sealed class ExactEngine : IStochasticEngine
{
    private NextReactionSimulator? _simulator;
    private CompiledModel? _model;

    /// <remarks>
    /// The amounts that the run starts with are whole where they are counted: round them by <see cref="WholeUnits"/> first. Steps of the
    /// result are transitions.
    /// </remarks>
    /// <inheritdoc/>
    public Trajectory Run(RunRequest request, ISegmentObserver? observer = null, CancellationToken cancel = default) =>
        Run(request, PathSegments.For(request.Model, observer), cancel);

    /// <inheritdoc/>
    public Trajectory Run(RunRequest request, IPathObserver? path, CancellationToken cancel)
    {
        var model = request.Model;
        if (!ReferenceEquals(model, _model))
            (_simulator, _model) = (new(model), model);
        var run = _simulator!.Run(request, cancel, path);
        var steps = (int)Math.Min(run.Transitions, int.MaxValue);
        return ChanceRecord.Of(model, request.Times, run.States, run.Counts, run.Parameters, steps, run.Notes, run.Acts);
    }
}
