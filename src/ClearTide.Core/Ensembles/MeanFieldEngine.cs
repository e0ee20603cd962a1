using ClearTide.Core.Simulation;

namespace ClearTide.Core.Ensembles;

/// <summary>
/// Runs a model without chance and counts, as runs by chance do, how much each process has moved: a running total of its rate,
/// solved beside the amounts. An instance serves one model and any number of threads.
/// </summary>
internal sealed class MeanFieldEngine : IEngine
{
    private readonly CompiledModel _model;
    private readonly int _processes;

    public MeanFieldEngine(CompiledModel model)
    {
        var network = model.Network with { Graph = model.Network.Graph.Fork() };
        _processes = network.Processes.Count;
        _model = new(network.WithStates("moved", [.. network.Processes.Select(process => process.Rate)]));
    }

    /// <inheritdoc/>
    public Trajectory Run(RunRequest request, ISegmentObserver? observer = null, CancellationToken cancel = default)
    {
        var start = request.InitialState();
        var run = Engines.Run(request with { Model = _model, Start = [.. start, .. new double[_processes]] }, observer, cancel);
        var moved = new double[run.Times.Count * _processes];
        for (var k = 0; k < moved.Length; k++)
            moved[k] = run.State(k / _processes, start.Length + k % _processes);
        return new(run, run.Notes) { Firings = moved };
    }
}
