using System.Reflection;
using System.Reflection.Emit;

namespace ClearTide.Core.Expressions;

/// <summary>
/// Writes the instructions that compute nodes of a graph into a method whose arguments are the graph's tables, time, state and parameters.
/// </summary>
internal class GraphEmitter(ExpressionGraph graph, IReadOnlyList<int> outputs, ILGenerator il)
{
    /// <summary>Deeper chains of nodes used once get a local in between, so that neither this recursion nor the evaluation stack grows
    /// without bound.</summary>
    private const int InlineDepth = 24;

    /// <summary>Where the instructions are written.</summary>
    protected readonly ILGenerator Il = il;

    private readonly ExpressionGraph _graph = graph;
    private readonly IReadOnlyList<int> _outputs = outputs;
    private readonly int[] _uses = new int[graph.Count];
    private readonly int[] _depth = new int[graph.Count];
    private readonly LocalBuilder?[] _locals = new LocalBuilder?[graph.Count];

    /// <summary>For each node the place in scratch memory where an earlier method has left it, or -1.</summary>
    private readonly int[]? _kept;

    /// <summary>Part of a function that is cut into several methods: what an earlier part computed is read from scratch memory, argument
    /// 5.</summary>
    /// <param name="of">The emitter of the part before, whose counts and depths hold on.</param>
    /// <param name="kept">Nodes that earlier parts left in scratch memory.</param>
    /// <param name="il">Where instructions go.</param>
    public GraphEmitter(GraphEmitter of, int[] kept, ILGenerator il)
        : this(of._graph, of._outputs, il)
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
            if (!needed[node])
                continue;
            foreach (var operand in ExpressionGraph.Operands(_graph[node]))
                _uses[operand]++;
        }
        for (var k = 0; k < _outputs.Count; k++)
            _uses[_outputs[k]]++;
        return needed;
    }

    /// <summary>Computes all nodes that are used more than once, each into a local of its own.</summary>
    public void EmitShared()
    {
        var needed = Count();
        for (var node = 0; node < _graph.Count; node++)
        {
            if (needed[node])
                EmitIfShared(node);
        }
    }

    /// <summary>Computes a node into a local if it is used more than once or ends a deep chain; true if it did.</summary>
    public bool EmitIfShared(int node)
    {
        if (_graph[node].Operation is Operation.Constant or Operation.Time)
            return false;
        var deepest = 0;
        foreach (var operand in ExpressionGraph.Operands(_graph[node]))
            deepest = Math.Max(deepest, _depth[operand]);
        _depth[node] = deepest + 1;
        if (_uses[node] < 2 && _depth[node] < InlineDepth)
            return false;
        EmitValue(node);
        var local = Il.DeclareLocal(NumberType);
        Il.Emit(OpCodes.Stloc, local);
        _locals[node] = local;
        _depth[node] = 0;
        return true;
    }

    /// <summary>Leaves a node that was computed into a local in scratch memory, for the parts that follow.</summary>
    public void Keep(int node, int place)
    {
        EmitAddress(5, place);
        Il.Emit(OpCodes.Ldloc, _locals[node]!);
        EmitWrite();
    }

    /// <summary>Writes an output to its place among the results.</summary>
    public void EmitOutput(int index)
    {
        EmitAddress(4, index);
        Load(_outputs[index]);
        EmitWrite();
    }

    /// <summary>Puts the address of the number at an index of a pointer argument on the stack.</summary>
    private void EmitAddress(byte argument, int index) => EmitAddress(Il, argument, index, NumberSize);

    /// <summary>The same in any method whose arguments are pointers to numbers.</summary>
    public static void EmitAddress(ILGenerator il, byte argument, int index, int size = sizeof(double))
    {
        il.Emit(OpCodes.Ldarg_S, argument);
        if (index == 0)
            return;
        il.Emit(OpCodes.Ldc_I4, index * size);
        il.Emit(OpCodes.Conv_I);
        il.Emit(OpCodes.Add);
    }

    /// <summary>Puts the value of a node on the stack.</summary>
    public void Load(int node)
    {
        if (_locals[node] is { } local)
            Il.Emit(OpCodes.Ldloc, local);
        else if (_kept is not null && _kept[node] >= 0)
        {
            EmitAddress(5, _kept[node]);
            EmitRead();
        }
        else
            EmitValue(node);
    }

    private void EmitValue(int index)
    {
        var node = _graph[index];
        switch (node.Operation)
        {
            case Operation.Constant:
                EmitConstant(node.Value);
                return;
            case Operation.Time:
                EmitTime();
                return;
            case Operation.State or Operation.Parameter:
                EmitAddress(node.Operation == Operation.State ? (byte)2 : (byte)3, node.A);
                EmitRead();
                return;
            case Operation.Choose:
                EmitChoose(node);
                return;
        }
        if (ExpressionGraph.IsTable(node.Operation))
        {
            // The table goes below its arguments on the stack; argument 0 holds all tables of the graph.
            Il.Emit(OpCodes.Ldarg_0);
            Il.Emit(OpCodes.Ldc_I4, (int)node.Value);
            Il.Emit(OpCodes.Ldelem_Ref);
        }
        Load(node.A);
        if (node.B >= 0)
            Load(node.B);
        EmitOperation(node.Operation);
    }

    /// <summary>What a number is in this code: its type, its size in bytes, and how it is made, read and written.</summary>
    protected virtual Type NumberType => typeof(double);

    protected virtual int NumberSize => sizeof(double);

    protected virtual void EmitConstant(double value) => Il.Emit(OpCodes.Ldc_R8, value);

    protected virtual void EmitTime() => Il.Emit(OpCodes.Ldarg_1);

    protected virtual void EmitRead() => Il.Emit(OpCodes.Ldind_R8);

    protected virtual void EmitWrite() => Il.Emit(OpCodes.Stind_R8);

    /// <summary>Replaces the operands on the stack (below them the table, for tables) by what an operation makes of them.</summary>
    protected virtual void EmitOperation(Operation operation)
    {
        switch (operation)
        {
            case Operation.Lookup:
                Look(nameof(TableFunction.At));
                break;
            case Operation.LookupSlope:
                Look(nameof(TableFunction.Slope));
                break;
            case Operation.LookupPiece:
                Look(nameof(TableFunction.Piece));
                break;
            case Operation.LookupIn:
                Look(nameof(TableFunction.AtPiece));
                break;
            case Operation.LookupSlopeIn:
                Look(nameof(TableFunction.SlopeInPiece));
                break;
            case Operation.Add:
                Il.Emit(OpCodes.Add);
                break;
            case Operation.Subtract:
                Il.Emit(OpCodes.Sub);
                break;
            case Operation.Multiply:
                Il.Emit(OpCodes.Mul);
                break;
            case Operation.Divide:
                Il.Emit(OpCodes.Div);
                break;
            case Operation.Negate:
                Il.Emit(OpCodes.Neg);
                break;
            case Operation.Less:
                Compare(OpCodes.Clt);
                break;
            case Operation.Equal:
                Compare(OpCodes.Ceq);
                break;
            case Operation.LessOrEqual or Operation.And or Operation.Or or Operation.Not:
                EmitLogic(operation);
                break;
            default:
                Il.Emit(OpCodes.Call, GraphMath.Method(operation));
                break;
        }
    }

    private void Look(string method) =>
        Il.Emit(
            OpCodes.Call,
            typeof(TableFunction).GetMethod(method, BindingFlags.Instance | BindingFlags.Public | BindingFlags.NonPublic)!
        );

    private void Compare(OpCode comparison)
    {
        Il.Emit(comparison);
        Il.Emit(OpCodes.Conv_R8);
    }

    private void EmitLogic(Operation operation) =>
        Il.Emit(OpCodes.Call, typeof(CompiledLogic).GetMethod(operation.ToString(), BindingFlags.Static | BindingFlags.Public)!);

    protected virtual void EmitChoose(GraphNode node)
    {
        var otherwise = Il.DefineLabel();
        var end = Il.DefineLabel();
        Load(node.A);
        Il.Emit(OpCodes.Ldc_R8, 0.0);
        Il.Emit(OpCodes.Beq, otherwise);
        Load(node.B);
        Il.Emit(OpCodes.Br, end);
        Il.MarkLabel(otherwise);
        Load(node.C);
        Il.MarkLabel(end);
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
