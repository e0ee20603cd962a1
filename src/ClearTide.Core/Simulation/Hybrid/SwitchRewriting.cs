using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>One thing that is constant between switches: the truth of a comparison, a rounded number, the piece of a table.</summary>
/// <param name="Node">Its node in the rewritten graph, where all that it depends on reads switches too.</param>
/// <param name="Raw">Its node in the network's own graph, as it was written.</param>
/// <param name="TimeOnly">Whether it depends on time and parameters alone, so that its changes are known before the run.</param>
/// <param name="Jumps">Whether formulas may jump where it changes; else they only have a kink there.</param>
internal sealed record Switch(int Node, int Raw, bool TimeOnly, bool Jumps);

/// <summary>Rewrites a graph so that everything that jumps or has a kink reads a parameter behind the network's own.</summary>
internal sealed class SwitchRewriting
{
    private readonly ReactionNetwork _network;
    private readonly ExpressionGraph _graph = new();
    private readonly List<Switch> _switches = [];
    private readonly Dictionary<int, int> _slots = [];
    private readonly List<int> _mapped = [];
    private readonly List<(bool State, bool Time)> _depends = [];

    /// <summary>Parameters that change while a run goes on: what depends on them is not known beforehand.</summary>
    private readonly HashSet<int> _changing;

    public SwitchRewriting(ReactionNetwork network)
    {
        _network = network;
        _changing =
        [
            .. network.Delays.Select(delay => delay.Slot),
            .. network.Implicit.SelectMany(block => block.Slots),
            .. network.Draws.Select(draw => draw.Slot),
            .. network
                .Events.SelectMany(one => one.Actions)
                .SelectMany(action => action)
                .Where(assignment => !assignment.IsState)
                .Select(assignment => assignment.Index),
        ];
    }

    public IReadOnlyList<Switch> Switches => _switches;

    public int Count => _switches.Count;

    public ExpressionGraph Graph => _graph;

    /// <summary>Whether anything that a run computes can switch.</summary>
    public static bool IsNeeded(ReactionNetwork network)
    {
        var reached = network.Graph.Reachable(network.Derivatives());
        if (!Enumerable.Range(0, reached.Length).Any(node => reached[node] && CanSwitch(network.Graph[node].Operation)))
            return false;
        var rewriting = new SwitchRewriting(network with { Graph = network.Graph.Fork() });
        foreach (var node in network.Derivatives())
            rewriting.Map(node);
        return rewriting.Count > 0;
    }

    private static bool CanSwitch(Operation operation) =>
        operation
            is Operation.Less
                or Operation.LessOrEqual
                or Operation.Floor
                or Operation.Ceiling
                or Operation.Min
                or Operation.Max
                or Operation.Abs
                or Operation.Lookup;

    /// <summary>The node of the rewritten graph for one of the network's.</summary>
    public int Map(int node)
    {
        var graph = _network.Graph;
        // Nodes come after their operands, so that mapping in order finds all operands mapped. Only what is needed is rewritten.
        var needed = graph.Reachable([node]);
        while (_mapped.Count <= node)
        {
            _mapped.Add(-1);
            _depends.Add(default);
        }
        for (var k = 0; k <= node; k++)
        {
            if (needed[k] && _mapped[k] < 0)
                Rewrite(k, graph[k]);
        }
        return _mapped[node];
    }

    private void Rewrite(int index, GraphNode node)
    {
        var (state, time) = (false, false);
        foreach (var operand in ExpressionGraph.Operands(node))
        {
            state |= _depends[operand].State;
            time |= _depends[operand].Time;
        }
        if (node.Operation == Operation.State || (node.Operation == Operation.Parameter && _changing.Contains(node.A)))
            state = true;
        if (node.Operation == Operation.Time)
            time = true;
        _depends[index] = (state, time);
        int A() => _mapped[node.A];
        int B() => _mapped[node.B];
        int Slot(int value, int raw, bool jumps) => _graph.Parameter(SlotOf(value, raw, timeOnly: !state, jumps));
        var own = _network.Graph;
        _mapped[index] = !(state || time)
            ? _graph.Make(_network.Graph, node, operand => _mapped[operand])
            : node.Operation switch
            {
                Operation.Less or Operation.LessOrEqual => Slot(_graph.Binary(node.Operation, A(), B()), index, jumps: true),
                Operation.Floor or Operation.Ceiling => Slot(_graph.Unary(node.Operation, A()), index, jumps: true),
                Operation.Min => _graph.Choose(
                    Slot(_graph.Binary(Operation.LessOrEqual, A(), B()), own.Binary(Operation.LessOrEqual, node.A, node.B), jumps: false),
                    A(),
                    B()
                ),
                Operation.Max => _graph.Choose(
                    Slot(_graph.Binary(Operation.LessOrEqual, A(), B()), own.Binary(Operation.LessOrEqual, node.A, node.B), jumps: false),
                    B(),
                    A()
                ),
                Operation.Abs => _graph.Choose(
                    Slot(
                        _graph.Binary(Operation.Less, A(), _graph.Constant(0)),
                        own.Binary(Operation.Less, node.A, own.Constant(0)),
                        jumps: false
                    ),
                    _graph.Negate(A()),
                    A()
                ),
                Operation.Lookup => Looked(node, A(), !state),
                _ => _graph.Make(_network.Graph, node, operand => _mapped[operand]),
            };
    }

    private int Looked(GraphNode node, int place, bool timeOnly)
    {
        var table = _network.Graph.Tables[(int)node.Value];
        var slot = SlotOf(
            _graph.Table(Operation.LookupPiece, table, place),
            _network.Graph.Table(Operation.LookupPiece, table, node.A),
            timeOnly,
            jumps: table.Jumps
        );
        return _graph.Table(Operation.LookupIn, table, place, _graph.Parameter(slot));
    }

    private int SlotOf(int value, int raw, bool timeOnly, bool jumps)
    {
        if (_slots.TryGetValue(value, out var known))
            return known;
        _switches.Add(new(value, raw, timeOnly, jumps));
        return _slots[value] = _network.ParameterCount + _switches.Count - 1;
    }

    public VectorFunction Compile(IReadOnlyList<int> nodes) => GraphCompiler.Compile(_graph, [.. nodes.Select(Map)]);

    /// <summary>What each switch should be, in their order. Call it after everything else has been mapped.</summary>
    public VectorFunction CompileValues() => GraphCompiler.Compile(_graph, [.. _switches.Select(one => one.Node)]);
}
