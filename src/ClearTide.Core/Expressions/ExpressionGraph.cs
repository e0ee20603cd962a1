namespace ClearTide.Core.Expressions;

/// <summary>
/// Expressions as one graph with common parts shared: the same operation on the same operands is one node (hash-consing).
/// Nodes are simplified as they are made, and a node's operands always come before it, so that the index order is an order of evaluation.
/// Derivatives, tangents and compiled functions all derive from this graph. One thread writes to it; once frozen it never changes
/// again, and any number
/// of threads may read it. What needs further nodes takes a fork.
/// </summary>
public sealed partial class ExpressionGraph
{
    private readonly List<GraphNode> _nodes = [];
    private readonly Dictionary<GraphNode, int> _known = [];

    /// <summary>An empty graph.</summary>
    public ExpressionGraph() { }

    private ExpressionGraph(ExpressionGraph origin)
    {
        _nodes = [.. origin._nodes];
        _known = new(origin._known);
        _tables = [.. origin._tables];
    }

    /// <summary>Whether it is shared and therefore read-only.</summary>
    public bool IsFrozen { get; private set; }

    /// <summary>Ends all writing: nodes that are there may still be asked for.</summary>
    internal void Freeze() => IsFrozen = true;

    /// <summary>A graph of one's own with all nodes of this one under the same numbers.</summary>
    internal ExpressionGraph Fork() => new(this);

    /// <summary>How many nodes there are.</summary>
    public int Count => _nodes.Count;

    private readonly List<TableFunction> _tables = [];

    /// <summary>The tables that nodes look up in, by number.</summary>
    public IReadOnlyList<TableFunction> Tables => _tables;

    /// <summary>A node by its index.</summary>
    public GraphNode this[int node] => _nodes[node];

    private int Intern(Operation operation, int a = -1, int b = -1, int c = -1, double value = 0)
    {
        var node = new GraphNode(operation, a, b, c, value);
        if (_known.TryGetValue(node, out var index))
            return index;
        RefuseFrozen();
        index = _nodes.Count;
        _nodes.Add(node);
        _known.Add(node, index);
        return index;
    }

    private void RefuseFrozen()
    {
        if (IsFrozen)
            throw new InvalidOperationException("This graph is shared by now and gets no more nodes: fork it first.");
    }

    /// <summary>The node of a number.</summary>
    /// <param name="value">The number.</param>
    public int Constant(double value) => Intern(Operation.Constant, value: value == 0 ? 0 : value);

    /// <summary>The state variable with this index.</summary>
    /// <param name="index">Of the state, from 0.</param>
    public int State(int index) => Intern(Operation.State, index);

    /// <summary>The parameter with this index.</summary>
    /// <param name="index">Of the parameter, from 0.</param>
    public int Parameter(int index) => Intern(Operation.Parameter, index);

    /// <summary>The node of the time.</summary>
    public int Time() => Intern(Operation.Time);

    /// <summary>Whether a node is a number, and which.</summary>
    /// <param name="node">The node in the graph.</param>
    /// <param name="value">The number, where it is one.</param>
    public bool IsConstant(int node, out double value)
    {
        value = _nodes[node].Value;
        return _nodes[node].Operation == Operation.Constant;
    }

    private bool Is(int node, double value) => IsConstant(node, out var constant) && constant == value;

    /// <summary>The node of a + b, simplified where a number or equal nodes allow.</summary>
    /// <param name="a">The node of the first operand.</param>
    /// <param name="b">The node of the second operand.</param>
    public int Add(int a, int b)
    {
        if (IsConstant(a, out var x) && IsConstant(b, out var y))
            return Constant(x + y);
        if (Is(a, 0))
            return b;
        if (Is(b, 0))
            return a;
        if (_nodes[b].Operation == Operation.Negate)
            return Subtract(a, _nodes[b].A);
        return Intern(Operation.Add, a, b);
    }

    /// <summary>The node of a − b, simplified where a number or equal nodes allow.</summary>
    /// <param name="a">The node of the first operand.</param>
    /// <param name="b">The node of the second operand.</param>
    public int Subtract(int a, int b)
    {
        if (IsConstant(a, out var x) && IsConstant(b, out var y))
            return Constant(x - y);
        if (Is(b, 0))
            return a;
        if (Is(a, 0))
            return Negate(b);
        if (a == b)
            return Constant(0);
        if (_nodes[b].Operation == Operation.Negate)
            return Add(a, _nodes[b].A);
        return Intern(Operation.Subtract, a, b);
    }

    /// <summary>The node of −a.</summary>
    /// <param name="a">The node of the first operand.</param>
    public int Negate(int a)
    {
        if (IsConstant(a, out var x))
            return Constant(-x);
        return _nodes[a].Operation == Operation.Negate ? _nodes[a].A : Intern(Operation.Negate, a);
    }

    /// <summary>The node of a · b, simplified where a number allows.</summary>
    /// <param name="a">The node of the first operand.</param>
    /// <param name="b">The node of the second operand.</param>
    public int Multiply(int a, int b)
    {
        if (IsConstant(a, out var x) && IsConstant(b, out var y))
            return Constant(x * y);
        if (Is(a, 0) || Is(b, 0))
            return Constant(0);
        if (Is(a, 1))
            return b;
        if (Is(b, 1))
            return a;
        if (Is(a, -1))
            return Negate(b);
        if (Is(b, -1))
            return Negate(a);
        return Intern(Operation.Multiply, a, b);
    }

    /// <summary>The node of a / b, simplified where a number allows.</summary>
    /// <param name="a">The node of the first operand.</param>
    /// <param name="b">The node of the second operand.</param>
    public int Divide(int a, int b)
    {
        if (IsConstant(a, out var x) && IsConstant(b, out var y) && y != 0)
            return Constant(x / y);
        if (Is(a, 0) && !Is(b, 0))
            return Constant(0);
        if (Is(b, 1))
            return a;
        return Intern(Operation.Divide, a, b);
    }

    /// <summary>The node of a to the power b, simplified where a number allows.</summary>
    /// <param name="a">The node of the first operand.</param>
    /// <param name="b">The node of the second operand.</param>
    public int Power(int a, int b)
    {
        if (IsConstant(b, out var exponent))
        {
            if (IsConstant(a, out var x) && double.IsFinite(Math.Pow(x, exponent)))
                return Constant(Math.Pow(x, exponent));
            if (exponent == 0)
                return Constant(1);
            if (exponent == 1)
                return a;
            if (exponent == 2)
                return Multiply(a, a);
        }
        return Intern(Operation.Power, a, b);
    }

    /// <summary>The node of an operation on one argument; numbers are worked out.</summary>
    internal int Unary(Operation operation, int a)
    {
        if (IsConstant(a, out var x) && double.IsFinite(GraphMath.Apply(operation, x, 0)))
            return Constant(GraphMath.Apply(operation, x, 0));
        return Intern(operation, a);
    }

    /// <summary>The node of an operation on two arguments; numbers are worked out.</summary>
    /// <param name="operation">An operation on two operands.</param>
    /// <param name="a">The node of the first operand.</param>
    /// <param name="b">The node of the second operand.</param>
    public int Binary(Operation operation, int a, int b)
    {
        if (IsConstant(a, out var x) && IsConstant(b, out var y))
            return Constant(GraphMath.Apply(operation, x, y));
        return Intern(operation, a, b);
    }

    /// <summary><paramref name="then"/> where the condition is not zero, else <paramref name="otherwise"/>.</summary>
    /// <param name="condition">The node that decides.</param>
    /// <param name="then">The node where it is not zero.</param>
    /// <param name="otherwise">The node where it is.</param>
    public int Choose(int condition, int then, int otherwise)
    {
        if (IsConstant(condition, out var value))
            return value != 0 ? then : otherwise;
        return then == otherwise ? then : Intern(Operation.Choose, condition, then, otherwise);
    }

    /// <summary>A node of one of the operations on tables.</summary>
    /// <param name="operation">Lookup, slope or area, whole or in a piece.</param>
    /// <param name="table">The table of points.</param>
    /// <param name="place">Node of where it is read.</param>
    /// <param name="piece">For the operations that are given a piece, its node.</param>
    public int Table(Operation operation, TableFunction table, int place, int piece = -1)
    {
        if (piece < 0 && IsConstant(place, out var x))
        {
            return Constant(
                operation switch
                {
                    Operation.Lookup => table.At(x),
                    Operation.LookupSlope => table.Slope(x),
                    _ => table.Piece(x),
                }
            );
        }
        var number = _tables.IndexOf(table);
        if (number < 0)
        {
            RefuseFrozen();
            number = _tables.Count;
            _tables.Add(table);
        }
        return Intern(operation, place, piece, value: number);
    }

    /// <summary>Whether an operation looks up in a table.</summary>
    internal static bool IsTable(Operation operation) => operation >= Operation.Lookup;
}
