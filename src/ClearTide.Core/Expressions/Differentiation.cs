namespace ClearTide.Core.Expressions;

/// <summary>
/// Forward-mode symbolic differentiation (Griewank and Walther, Evaluating Derivatives, 2nd ed., section 3.1): given the derivative of each
/// leaf along one direction, builds nodes for the derivative of any node along it. Parts shared by several results are differentiated once.
/// Jumps (floor, comparisons) have derivative zero; at a kink the side that the formula chooses counts.
/// </summary>
/// <param name="graph">The graph that holds the expressions and receives the derivatives.</param>
/// <param name="seed">The derivative of a leaf (state, parameter, time) along the direction, or -1 for zero.</param>
public sealed class Differentiation(ExpressionGraph graph, Func<GraphNode, int> seed)
{
    private readonly Dictionary<int, int> _done = [];

    /// <summary>Takes a node as independent: its derivative along the direction is given, whatever it is computed from.</summary>
    /// <param name="node">The node that counts as independent.</param>
    /// <param name="derivative">The node of its derivative.</param>
    public void Fix(int node, int derivative) => _done[node] = derivative;

    /// <summary>The node that is the derivative of <paramref name="root"/>.</summary>
    /// <param name="root">The node to be differentiated.</param>
    public int Of(int root)
    {
        var needed = graph.Reachable([root]);
        for (var node = 0; node <= root; node++)
        {
            if (needed[node] && !_done.ContainsKey(node))
                _done[node] = One(node);
        }
        return _done[root];
    }

    /// <summary>Differentiates nodes in ascending order; those not given count as not depending on the direction.</summary>
    internal void Take(IEnumerable<int> nodes)
    {
        foreach (var node in nodes)
            _done[node] = One(node);
    }

    /// <summary>The derivative of a node that was taken, or -1 where it is zero.</summary>
    internal int Taken(int node) =>
        _done.TryGetValue(node, out var derivative) && !(graph.IsConstant(derivative, out var value) && value == 0) ? derivative : -1;

    private int Known(int node) => _done.TryGetValue(node, out var derivative) ? derivative : graph.Constant(0);

    private int One(int index)
    {
        var node = graph[index];
        int Zero() => graph.Constant(0);
        int A() => Known(node.A);
        int B() => Known(node.B);
        int Chain(int outer) => graph.Multiply(outer, A());
        switch (node.Operation)
        {
            case Operation.Constant:
                return Zero();
            case Operation.State or Operation.Parameter or Operation.Time:
                return seed(node) is var known && known >= 0 ? known : Zero();
            case Operation.Add:
                return graph.Add(A(), B());
            case Operation.Subtract:
                return graph.Subtract(A(), B());
            case Operation.Negate:
                return graph.Negate(A());
            case Operation.Multiply:
                return graph.Add(graph.Multiply(A(), node.B), graph.Multiply(node.A, B()));
            case Operation.Divide:
                return graph.Divide(graph.Subtract(A(), graph.Multiply(index, B())), node.B);
            case Operation.Power:
                return Power(index, node);
            case Operation.Min or Operation.Max:
                var (low, high) = node.Operation == Operation.Min ? (node.A, node.B) : (node.B, node.A);
                return graph.Choose(graph.Binary(Operation.LessOrEqual, low, high), A(), B());
            case Operation.Choose:
                return graph.Choose(node.A, B(), Known(node.C));
            case Operation.Lookup:
                return Chain(graph.Table(Operation.LookupSlope, graph.Tables[(int)node.Value], node.A));
            case Operation.LookupIn:
                return Chain(graph.Table(Operation.LookupSlopeIn, graph.Tables[(int)node.Value], node.A, node.B));
            case Operation.LookupPiece
            or Operation.LookupSlope
            or Operation.LookupSlopeIn
            or Operation.Floor
            or Operation.Ceiling
            or Operation.Less
            or Operation.LessOrEqual
            or Operation.Equal
            or Operation.And
            or Operation.Or
            or Operation.Not
            or Operation.Factorial:
                return Zero();
            default:
                return graph.IsConstant(A(), out var still) && still == 0 ? Zero() : Chain(Outer(index, node));
        }
    }

    /// <summary>d(a^b) = b a^(b-1) da + a^b ln(a) db; terms that are zero by structure are not written, so that no log of zero
    /// appears.</summary>
    private int Power(int index, GraphNode node)
    {
        var result = graph.Constant(0);
        if (!(graph.IsConstant(Known(node.A), out var da) && da == 0))
        {
            var lowered = graph.Power(node.A, graph.Subtract(node.B, graph.Constant(1)));
            result = graph.Multiply(graph.Multiply(node.B, lowered), Known(node.A));
        }
        if (!(graph.IsConstant(Known(node.B), out var db) && db == 0))
        {
            result = graph.Add(result, graph.Multiply(graph.Multiply(index, graph.Unary(Operation.Log, node.A)), Known(node.B)));
        }
        return result;
    }

    /// <summary>The derivative of a function of one argument with respect to that argument.</summary>
    private int Outer(int index, GraphNode node)
    {
        var x = node.A;
        int One() => graph.Constant(1);
        int Square(int n) => graph.Multiply(n, n);
        int Inverse(int n) => graph.Divide(One(), n);
        int Root(int n) => graph.Unary(Operation.Sqrt, n);
        return node.Operation switch
        {
            Operation.Exp => index,
            Operation.Log => Inverse(x),
            Operation.Sqrt => graph.Divide(graph.Constant(0.5), index),
            Operation.Abs => graph.Choose(graph.Binary(Operation.Less, x, graph.Constant(0)), graph.Constant(-1), One()),
            Operation.Sin => graph.Unary(Operation.Cos, x),
            Operation.Cos => graph.Negate(graph.Unary(Operation.Sin, x)),
            Operation.Tan => graph.Add(One(), Square(index)),
            Operation.Asin => Inverse(Root(graph.Subtract(One(), Square(x)))),
            Operation.Acos => graph.Negate(Inverse(Root(graph.Subtract(One(), Square(x))))),
            Operation.Atan => Inverse(graph.Add(One(), Square(x))),
            Operation.Sinh => graph.Unary(Operation.Cosh, x),
            Operation.Cosh => graph.Unary(Operation.Sinh, x),
            Operation.Tanh => graph.Subtract(One(), Square(index)),
            Operation.Asinh => Inverse(Root(graph.Add(Square(x), One()))),
            Operation.Acosh => Inverse(Root(graph.Subtract(Square(x), One()))),
            Operation.Atanh => Inverse(graph.Subtract(One(), Square(x))),
            _ => throw new InvalidOperationException($"{node.Operation} has no rule of differentiation."),
        };
    }
}
