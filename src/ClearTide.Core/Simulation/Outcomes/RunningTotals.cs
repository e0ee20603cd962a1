using ClearTide.Core.Language;

namespace ClearTide.Core.Simulation;

/// <summary>Cumulative flows: what each output has come to since the start of the run, at given times.</summary>
public sealed class RunningTotals : ISegmentObserver
{
    private readonly int[] _outputs;
    private readonly double[] _times;
    private readonly double[] _sums;
    private readonly double[][] _columns;
    private readonly double _scale;
    private int _next;

    /// <param name="outputs">Which outputs of the model are summed up.</param>
    /// <param name="times">Ascending times within the run.</param>
    /// <param name="network">The model; in discrete steps a flow is the amount of a step, and sums are over steps.</param>
    public RunningTotals(ReactionNetwork network, IReadOnlyList<int> outputs, IReadOnlyList<double> times)
    {
        (_outputs, _times) = ([.. outputs], [.. times]);
        _sums = new double[_outputs.Length];
        _columns = [.. _outputs.Select(_ => new double[_times.Length])];
        _scale = network.DiscreteStep > 0 ? 1 / network.DiscreteStep : 1;
    }

    /// <inheritdoc/>
    public void Take(double from, double until, ReadOnlySpan<double> values)
    {
        while (_next < _times.Length && _times[_next] < until)
        {
            for (var k = 0; k < _outputs.Length; k++)
                _columns[k][_next] = _scale * (_sums[k] + Of(from, until, values, k).Integral(Math.Max(from, _times[_next])));
            _next++;
        }
        for (var k = 0; k < _outputs.Length; k++)
            _sums[k] += Of(from, until, values, k).Integral();
    }

    private InterpolantSegment Of(double from, double until, ReadOnlySpan<double> values, int k) =>
        new(from, until, values.Slice(_outputs[k] * InterpolantSegment.NodeCount, InterpolantSegment.NodeCount));

    /// <summary>The total of one of the outputs, in the order in which they were given, at each of the times.</summary>
    public double[] Column(int index)
    {
        var column = (double[])_columns[index].Clone();
        for (var k = _next; k < column.Length; k++)
            column[k] = _scale * _sums[index];
        return column;
    }
}
