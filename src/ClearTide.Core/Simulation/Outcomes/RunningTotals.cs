using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>An expression of the outputs of a run that is summed up over time.</summary>
/// <param name="Graph">The expressions.</param>
/// <param name="Node">Over outputs as state variables, and the run's parameters.</param>
/// <param name="IsFlow">Whether it is a flow, which in discrete steps is the amount of a step.</param>
public sealed record Integrand(ExpressionGraph Graph, int Node, bool IsFlow)
{
    /// <summary>One flow of the model by itself.</summary>
    /// <param name="output">Its place among the outputs: amounts, flows, quantities.</param>
    public static Integrand OfFlow(int output)
    {
        var graph = new ExpressionGraph();
        return new(graph, graph.State(output), IsFlow: true);
    }
}

/// <summary>What integrands have come to since the start of the run, at given times.</summary>
/// <param name="network">The model; in discrete steps a flow is the amount of a step, and sums are over steps.</param>
/// <param name="integrands">What is summed up.</param>
/// <param name="times">Ascending times within the run.</param>
/// <param name="parameters">Those of the run.</param>
public sealed class RunningTotals(
    ReactionNetwork network,
    IReadOnlyList<Integrand> integrands,
    IReadOnlyList<double> times,
    double[] parameters
) : ISegmentObserver
{
    private const int Nodes = InterpolantSegment.NodeCount;

    private readonly NodeReader[] _readers = [.. integrands.Select(one => new NodeReader(one.Graph, one.Node))];
    private readonly double[] _times = [.. times];
    private readonly double[] _sums = new double[integrands.Count];
    private readonly double[][] _columns = [.. integrands.Select(_ => new double[times.Count])];
    private readonly double[] _scales =
    [
        .. integrands.Select(one => one.IsFlow && network.DiscreteStep > 0 ? 1 / network.DiscreteStep : 1),
    ];
    private readonly double[] _outputs = new double[network.Amounts.Count + network.Flows.Count + network.Quantities.Count];
    private readonly double[] _values = new double[integrands.Count * Nodes];
    private int _next;

    /// <inheritdoc/>
    public void Take(double from, double until, ReadOnlySpan<double> values)
    {
        for (var node = 0; node < Nodes; node++)
        {
            for (var output = 0; output < _outputs.Length; output++)
                _outputs[output] = values[output * Nodes + node];
            var time = from + InterpolantSegment.Nodes[node] * (until - from);
            for (var k = 0; k < _readers.Length; k++)
                _values[k * Nodes + node] = _readers[k].Value(time, _outputs, parameters);
        }
        while (_next < _times.Length && _times[_next] < until)
        {
            for (var k = 0; k < _sums.Length; k++)
                _columns[k][_next] = _scales[k] * (_sums[k] + Of(from, until, k).Integral(Math.Max(from, _times[_next])));
            _next++;
        }
        for (var k = 0; k < _sums.Length; k++)
            _sums[k] += Of(from, until, k).Integral();
    }

    private InterpolantSegment Of(double from, double until, int k) => new(from, until, _values.AsSpan(k * Nodes, Nodes));

    /// <summary>The total of one of the integrands, in the order in which they were given, at each of the times.</summary>
    /// <param name="index">Of the integrand, from 0.</param>
    public double[] Column(int index)
    {
        var column = (double[])_columns[index].Clone();
        for (var k = _next; k < column.Length; k++)
            column[k] = _scales[index] * _sums[index];
        return column;
    }
}
