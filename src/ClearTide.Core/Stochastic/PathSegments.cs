using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// Hands the path of a run by chance to one who follows segments: constant between transitions, and straight where amounts got from one
/// time to the next in between. It works out all outputs at each transition, which costs more than to follow what is needed of them.
/// </summary>
internal sealed class PathSegments(CompiledModel model, ISegmentObserver observer) : IPathObserver
{
    /// <summary>It, where there is somebody to hand the path to.</summary>
    public static PathSegments? For(CompiledModel model, ISegmentObserver? observer) => observer is null ? null : new(model, observer);

    private const int Nodes = InterpolantSegment.NodeCount;

    private readonly double[] _before = new double[model.OutputCount],
        _now = new double[model.OutputCount],
        _values = new double[model.OutputCount * Nodes];
    private double _time = double.NaN;

    /// <inheritdoc/>
    public void Take(double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters, bool held)
    {
        model.Outputs(time, state, parameters, _now);
        if (time > _time)
        {
            for (var output = 0; output < _now.Length; output++)
            {
                var change = held ? 0 : _now[output] - _before[output];
                for (var node = 0; node < Nodes; node++)
                    _values[output * Nodes + node] = _before[output] + InterpolantSegment.Nodes[node] * change;
            }
            observer.Take(_time, time, _values);
        }
        _time = time;
        _now.CopyTo(_before, 0);
    }
}
