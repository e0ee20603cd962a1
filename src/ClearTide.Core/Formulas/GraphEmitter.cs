using System.Reflection;
using System.Reflection.Emit;

namespace ClearTide.Core.Formulas;

/// <summary>
/// Writes the instructions that compute nodes of a graph into a method whose arguments are the graph's tables, time, state and parameters.
/// </summary>
internal sealed class GraphEmitter(ExpressionGraph graph, IReadOnlyList<int> outputs, ILGenerator il)
{
    /// <summary>Deeper chains of nodes used once get a local in between, so that neither this recursion nor the evaluation stack grows without bound.</summary>
    private const int InlineDepth = 24;

    private readonly ExpressionGraph _graph = graph;
    private readonly IReadOnlyList<int> _outputs = outputs;
    private readonly int[] _uses = new int[graph.Count];
    private readonly int[] _depth = new int[graph.Count];
    private readonly LocalBuilder?[] _locals = new LocalBuilder?[graph.Count];

    /// <summary>For each node the place in scratch memory where an earlier method has left it, or -1.</summary>
    private readonly int[]? _kept;

    /// <summary>Part of a function that is cut into several methods: what an earlier part computed is read from scratch memory, argument 5.</summary>
    /// <param name="of">The emitter of the part before, whose counts and depths hold on.</param>
    public GraphEmitter(GraphEmitter of, int[] kept, ILGenerator il) : this(of._graph, of._outputs, il)
    {
        _kept = kept;
        (_uses, _depth) = (of._uses, of._depth);
    }

    /// <summary>Counts how often each node is used.</summary>
    /// <returns>For every node, whether an output needs it.</returns>
    public bool[] Count()
    {
        var needed = _graph.Reachable(_outputs);
        for (var node = 0; node < _graph.Count; node++)
        {
            if (!needed[node]) continue;
            foreach (var operand in ExpressionGraph.Operands(_graph[node])) _uses[operand]++;
        }
        for (var k = 0; k < _outputs.Count; k++) _uses[_outputs[k]]++;
        return needed;
    }

    /// <summary>Computes all nodes that are used more than once, each into a local of its own.</summary>
    public void EmitShared()
    {
        var needed = Count();
        for (var node = 0; node < _graph.Count; node++)
        {
            if (needed[node]) EmitIfShared(node);
        }
    }

    /// <summary>Computes a node into a local if it is used more than once or ends a deep chain; true if it did.</summary>
    public bool EmitIfShared(int node)
    {
        if (_graph[node].Operation is Operation.Constant or Operation.Time) return false;
        var deepest = 0;
        foreach (var operand in ExpressionGraph.Operands(_graph[node])) deepest = Math.Max(deepest, _depth[operand]);
        _depth[node] = deepest + 1;
        if (_uses[node] < 2 && _depth[node] < InlineDepth) return false;
        EmitValue(node);
        var local = il.DeclareLocal(typeof(double));
        il.Emit(OpCodes.Stloc, local);
        _locals[node] = local;
        _depth[node] = 0;
        return true;
    }

    /// <summary>Leaves a node that was computed into a local in scratch memory, for the parts that follow.</summary>
    public void Keep(int node, int place)
    {
        EmitAddress(il, 5, place);
        il.Emit(OpCodes.Ldloc, _locals[node]!);
        il.Emit(OpCodes.Stind_R8);
    }

    /// <summary>Writes an output to its place among the results.</summary>
    public void EmitOutput(int index)
    {
        EmitAddress(il, 4, index);
        Load(_outputs[index]);
        il.Emit(OpCodes.Stind_R8);
    }

    /// <summary>Puts the address of the number at an index of a pointer argument on the stack.</summary>
    public static void EmitAddress(ILGenerator il, byte argument, int index)
    {
        il.Emit(OpCodes.Ldarg_S, argument);
        if (index == 0) return;
        il.Emit(OpCodes.Ldc_I4, index * sizeof(double));
        il.Emit(OpCodes.Conv_I);
        il.Emit(OpCodes.Add);
    }

    /// <summary>Puts the value of a node on the stack.</summary>
    public void Load(int node)
    {
        if (_locals[node] is { } local) il.Emit(OpCodes.Ldloc, local);
        else if (_kept is not null && _kept[node] >= 0)
        {
            EmitAddress(il, 5, _kept[node]);
            il.Emit(OpCodes.Ldind_R8);
        }
        else EmitValue(node);
    }

    private void EmitValue(int index)
    {
        var node = _graph[index];
        switch (node.Operation)
        {
            case Operation.Constant:
                il.Emit(OpCodes.Ldc_R8, node.Value);
                return;
            case Operation.Time:
                il.Emit(OpCodes.Ldarg_1);
                return;
            case Operation.State or Operation.Parameter:
                EmitAddress(il, node.Operation == Operation.State ? (byte)2 : (byte)3, node.A);
                il.Emit(OpCodes.Ldind_R8);
                return;
            case Operation.Choose:
                EmitChoose(node);
                return;
        }
        if (ExpressionGraph.IsTable(node.Operation))
        {
            // The table goes below its arguments on the stack; argument 0 holds all tables of the graph.
            il.Emit(OpCodes.Ldarg_0);
            il.Emit(OpCodes.Ldc_I4, (int)node.Value);
            il.Emit(OpCodes.Ldelem_Ref);
        }
        Load(node.A);
        if (node.B >= 0) Load(node.B);
        switch (node.Operation)
        {
            case Operation.Lookup: Look(nameof(TableFunction.At)); break;
            case Operation.LookupSlope: Look(nameof(TableFunction.Slope)); break;
            case Operation.LookupPiece: Look(nameof(TableFunction.Piece)); break;
            case Operation.LookupIn: Look(nameof(TableFunction.AtPiece)); break;
            case Operation.LookupSlopeIn: Look(nameof(TableFunction.SlopeInPiece)); break;
            case Operation.Add: il.Emit(OpCodes.Add); break;
            case Operation.Subtract: il.Emit(OpCodes.Sub); break;
            case Operation.Multiply: il.Emit(OpCodes.Mul); break;
            case Operation.Divide: il.Emit(OpCodes.Div); break;
            case Operation.Negate: il.Emit(OpCodes.Neg); break;
            case Operation.Less: Compare(OpCodes.Clt); break;
            case Operation.Equal: Compare(OpCodes.Ceq); break;
            case Operation.LessOrEqual or Operation.And or Operation.Or or Operation.Not: EmitLogic(node.Operation); break;
            default: il.Emit(OpCodes.Call, GraphMath.Method(node.Operation)); break;
        }
    }

    private void Look(string method) => il.Emit(OpCodes.Call, typeof(TableFunction).GetMethod(method)!);

    private void Compare(OpCode comparison)
    {
        il.Emit(comparison);
        il.Emit(OpCodes.Conv_R8);
    }

    private void EmitLogic(Operation operation) => il.Emit(OpCodes.Call,
        typeof(CompiledLogic).GetMethod(operation.ToString(), BindingFlags.Static | BindingFlags.Public)!);

    private void EmitChoose(GraphNode node)
    {
        var otherwise = il.DefineLabel();
        var end = il.DefineLabel();
        Load(node.A);
        il.Emit(OpCodes.Ldc_R8, 0.0);
        il.Emit(OpCodes.Beq, otherwise);
        Load(node.B);
        il.Emit(OpCodes.Br, end);
        il.MarkLabel(otherwise);
        Load(node.C);
        il.MarkLabel(end);
    }

    /// <summary>Logic on numbers, where zero is false, for compiled code to call.</summary>
    private static class CompiledLogic
    {
        public static double LessOrEqual(double x, double y) => x <= y ? 1 : 0;

        public static double And(double x, double y) => x != 0 && y != 0 ? 1 : 0;

        public static double Or(double x, double y) => x != 0 || y != 0 ? 1 : 0;

        public static double Not(double x) => x == 0 ? 1 : 0;
    }
}
