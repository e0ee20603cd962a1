namespace ClearTide.Core.Expressions;

/// <summary>Reading a graph: what a node needs, and what it is worth.</summary>
public sealed partial class ExpressionGraph
{
    /// <summary>Makes a node like one of another graph, its operands mapped into this one.</summary>
    /// <param name="source">The graph that the node is of.</param>
    /// <param name="node">The node in that graph.</param>
    /// <param name="operand">The node here of one there.</param>
    public int Make(ExpressionGraph source, GraphNode node, Func<int, int> operand) =>
        node.Operation switch
        {
            _ when IsTable(node.Operation) => Table(
                node.Operation,
                source.Tables[(int)node.Value],
                operand(node.A),
                node.B < 0 ? -1 : operand(node.B)
            ),
            Operation.Constant => Constant(node.Value),
            Operation.State => State(node.A),
            Operation.Parameter => Parameter(node.A),
            Operation.Time => Time(),
            Operation.Add => Add(operand(node.A), operand(node.B)),
            Operation.Subtract => Subtract(operand(node.A), operand(node.B)),
            Operation.Multiply => Multiply(operand(node.A), operand(node.B)),
            Operation.Divide => Divide(operand(node.A), operand(node.B)),
            Operation.Power => Power(operand(node.A), operand(node.B)),
            Operation.Negate => Negate(operand(node.A)),
            Operation.Choose => Choose(operand(node.A), operand(node.B), operand(node.C)),
            _ when node.B >= 0 => Binary(node.Operation, operand(node.A), operand(node.B)),
            _ => Unary(node.Operation, operand(node.A)),
        };

    /// <summary>The operands of a node.</summary>
    internal static IEnumerable<int> Operands(GraphNode node)
    {
        if (node.Operation is Operation.Constant or Operation.State or Operation.Parameter or Operation.Time)
            yield break;
        yield return node.A;
        if (node.B >= 0)
            yield return node.B;
        if (node.C >= 0)
            yield return node.C;
    }

    /// <summary>For every node, whether one of <paramref name="roots"/> needs it.</summary>
    /// <param name="roots">The nodes that are wanted.</param>
    public bool[] Reachable(IEnumerable<int> roots)
    {
        var needed = new bool[Count];
        foreach (var root in roots)
            needed[root] = true;
        for (var node = Count - 1; node >= 0; node--)
        {
            if (!needed[node])
                continue;
            foreach (var operand in Operands(_nodes[node]))
                needed[operand] = true;
        }
        return needed;
    }

    /// <summary>The value of a node by walking the graph, for single evaluations where compiling does not pay.</summary>
    /// <param name="root">The node.</param>
    /// <param name="time">In the unit of the run.</param>
    /// <param name="state">One value for each state of the network.</param>
    /// <param name="parameters">One value for each parameter of the network.</param>
    public double Evaluate(int root, double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters) =>
        new NodeReader(this, root).Value(time, state, parameters);
}
