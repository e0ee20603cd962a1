using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>Computes the outputs of each step at the nodes of a piece and hands them to an observer.</summary>
internal sealed unsafe class SegmentFeed(CompiledModel model, ISegmentObserver observer)
{
    private readonly int _count = model.OutputCount;
    private readonly bool _holds = model.Network.DiscreteStep > 0;
    private readonly double[] _state = new double[model.StateCount];
    private readonly double[] _row = new double[model.OutputCount + 1];
    private readonly double[] _values = new double[InterpolantSegment.NodeCount * model.OutputCount];

    /// <summary>Fills in what a law reads from its parameters besides values, at a time and state.</summary>
    public delegate void Filling(double time, double* state, double* parameters);

    /// <param name="stepper">Has made the step that the stretch lies in.</param>
    /// <param name="from">Where the stretch begins, within the last step.</param>
    /// <param name="until">Where it ends.</param>
    /// <param name="parameters">All parameters, in the order of the network.</param>
    /// <param name="outputs">The model's outputs for the branch that the stretch was on.</param>
    /// <param name="fill">Null where there is nothing to fill in.</param>
    public void Take(Stepper stepper, double from, double until, double[] parameters, VectorFunction outputs, Filling? fill)
    {
        if (!(until > from))
            return;
        for (var node = 0; node < InterpolantSegment.NodeCount; node++)
        {
            var time = node == InterpolantSegment.NodeCount - 1 ? until : from + InterpolantSegment.Nodes[node] * (until - from);
            // Discrete steps hold what the step began with until its end.
            stepper.At(_holds ? from : time, _state);
            fixed (double* y = _state)
            fixed (double* p = parameters)
            fixed (double* row = _row)
            {
                fill?.Invoke(time, y, p);
                outputs(time, y, p, row);
            }
            for (var k = 0; k < _count; k++)
                _values[k * InterpolantSegment.NodeCount + node] = _row[k];
        }
        observer.Take(from, until, _values);
    }

    /// <summary>Where a run in discrete steps ends: what its last step has made holds at that moment alone, as a segment without length.
    /// The flows of a step that is not made are those of the step before. In continuous time there is nothing to add.</summary>
    /// <param name="time">Where the run ends, in the model's unit of time.</param>
    /// <param name="state">What it has come to.</param>
    /// <param name="parameters">All parameters, in the order of the network.</param>
    /// <param name="outputs">The model's outputs there.</param>
    public void End(double time, ReadOnlySpan<double> state, double[] parameters, VectorFunction outputs)
    {
        if (!_holds)
            return;
        fixed (double* y = state)
        fixed (double* p = parameters)
        fixed (double* row = _row)
            outputs(time, y, p, row);
        var (flows, quantities) = (model.Network.Amounts.Count, model.Network.Amounts.Count + model.Network.Flows.Count);
        for (var k = 0; k < _count; k++)
        {
            if (k < flows || k >= quantities)
                _values.AsSpan(k * InterpolantSegment.NodeCount, InterpolantSegment.NodeCount).Fill(_row[k]);
        }
        observer.Take(time, time, _values);
    }
}
