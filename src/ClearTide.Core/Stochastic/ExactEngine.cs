using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// Runs a model by the exact law of chance: whole units wait their times, and what is not counted flows between them. An instance serves
/// one
/// thread and is quickest for one model after the same model; a run depends on nothing but its request.
/// </summary>
internal sealed class ExactEngine : IEngine
{
    private NextReactionSimulator? _simulator;
    private CompiledModel? _model;

    /// <remarks>
    /// The amounts that the run starts with are whole where they are counted: round them by <see cref="WholeUnits"/> first. Steps of the
    /// result are transitions.
    /// </remarks>
    /// <param name="observer">Chance runs are not followed from step to step yet: null.</param>
    /// <inheritdoc/>
    public Trajectory Run(RunRequest request, ISegmentObserver? observer = null, CancellationToken cancel = default)
    {
        if (observer is not null)
            throw new ArgumentException("A run by chance is read at its output times.", nameof(observer));
        var model = request.Model;
        if (!ReferenceEquals(model, _model))
            (_simulator, _model) = (new(model), model);
        var run = _simulator!.Run(request, cancel);
        var (rows, width, n, parameters) = (request.Times.Length, model.OutputCount, model.StateCount, model.Network.ParameterCount);
        var outputs = new double[rows * width];
        for (var row = 0; row < rows; row++)
        {
            model.Outputs(
                request.Times[row],
                run.States.AsSpan(row * n, n),
                run.Parameters.AsSpan(row * parameters, parameters),
                outputs.AsSpan(row * width, width)
            );
        }
        return new(model.Network, request.Times, run.States, outputs, (int)Math.Min(run.Transitions, int.MaxValue), run.Notes)
        {
            Firings = run.Counts,
            Acts = run.Acts,
        };
    }
}
