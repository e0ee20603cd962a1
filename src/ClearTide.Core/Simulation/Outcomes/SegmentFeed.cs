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
}
