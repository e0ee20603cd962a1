namespace ClearTide.Core.Expressions;

/// <summary>
/// The value of one node of a graph, worked out again and again by walking what it needs: for expressions that are read some thousand
/// times, where compiling does not pay. It has room of its own, so that one reader serves one thread.
/// </summary>
/// <param name="graph">May grow meanwhile; what is read stays as it is.</param>
/// <param name="root">The node that is read.</param>
internal sealed class NodeReader(ExpressionGraph graph, int root)
{
    private readonly int[] _needed = Needed(graph, root);
    private readonly double[] _values = new double[root + 1];

    private static int[] Needed(ExpressionGraph graph, int root)
    {
        var isNeeded = graph.Reachable([root]);
        return [.. Enumerable.Range(0, root + 1).Where(node => isNeeded[node])];
    }

    /// <summary>What the node is worth; costs as many steps as there are nodes that it needs.</summary>
    /// <param name="time">What stands for time in the expression.</param>
    /// <param name="state">The state variables that the expression names.</param>
    /// <param name="parameters">All parameters that it names.</param>
    public double Value(double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters)
    {
        var values = _values;
        foreach (var k in _needed)
        {
            var node = graph[k];
            values[k] = node.Operation switch
            {
                Operation.Constant => node.Value,
                Operation.State => state[node.A],
                Operation.Parameter => parameters[node.A],
                Operation.Time => time,
                Operation.Choose => values[node.A] != 0 ? values[node.B] : values[node.C],
                _ when ExpressionGraph.IsTable(node.Operation) => LookUp(node, values[node.A], node.B >= 0 ? values[node.B] : 0),
                _ => GraphMath.Apply(node.Operation, values[node.A], node.B >= 0 ? values[node.B] : 0),
            };
        }
        return values[root];
    }

    private double LookUp(GraphNode node, double place, double piece)
    {
        var table = graph.Tables[(int)node.Value];
        return node.Operation switch
        {
            Operation.Lookup => table.At(place),
            Operation.LookupSlope => table.Slope(place),
            Operation.LookupPiece => table.Piece(place),
            Operation.LookupIn => table.AtPiece(place, piece),
            _ => table.SlopeInPiece(place, piece),
        };
    }
}
