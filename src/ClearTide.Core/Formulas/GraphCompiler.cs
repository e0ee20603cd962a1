using System.Reflection;
using System.Reflection.Emit;

namespace ClearTide.Core.Formulas;

/// <summary>
/// A compiled set of expressions: reads time, state and parameters, writes one number for each expression. No allocation, no state of its own;
/// any number of threads may call it. The pointers must hold as many numbers as the graph's indices ask for; nothing is checked.
/// </summary>
public unsafe delegate void VectorFunction(double time, double* state, double* parameters, double* results);

/// <summary>
/// Compiles nodes of a graph to one method of intermediate language, collected when dropped. A node used once stays on the evaluation
/// stack, one used more often is computed once and kept in a local. Values used only behind an <c>if</c> are computed all the same:
/// they have no effects, and it keeps sharing simple.
/// </summary>
public static class GraphCompiler
{
    /// <summary>The function of these nodes: compiled, or taken from earlier where the same content was compiled before.</summary>
    public static VectorFunction Compile(ExpressionGraph graph, IReadOnlyList<int> outputs) =>
        CompiledFunctions.GetOrCompile(graph, outputs, () => CompileAnew(graph, outputs));

    private static VectorFunction CompileAnew(ExpressionGraph graph, IReadOnlyList<int> outputs)
    {
        var method = new DynamicMethod("formulas", typeof(void),
            [typeof(object), typeof(double), typeof(double*), typeof(double*), typeof(double*)], typeof(GraphCompiler).Module, skipVisibility: true);
        var emitter = new Emitter(graph, outputs, method.GetILGenerator());
        emitter.Emit();
        // A delegate closed over its first argument is called without a shuffling stub.
        return method.CreateDelegate<VectorFunction>(new object());
    }

    private sealed class Emitter(ExpressionGraph graph, IReadOnlyList<int> outputs, ILGenerator il)
    {
        /// <summary>Deeper chains of nodes used once get a local in between, so that neither this recursion nor the evaluation stack grows without bound.</summary>
        private const int InlineDepth = 24;

        private readonly int[] _uses = new int[graph.Count];
        private readonly int[] _depth = new int[graph.Count];
        private readonly LocalBuilder?[] _locals = new LocalBuilder?[graph.Count];

        public void Emit()
        {
            var needed = graph.Reachable(outputs);
            for (var node = 0; node < graph.Count; node++)
            {
                if (!needed[node]) continue;
                foreach (var operand in ExpressionGraph.Operands(graph[node])) _uses[operand]++;
            }
            for (var k = 0; k < outputs.Count; k++) _uses[outputs[k]]++;
            for (var node = 0; node < graph.Count; node++)
            {
                if (!needed[node] || graph[node].Operation is Operation.Constant or Operation.Time) continue;
                var deepest = 0;
                foreach (var operand in ExpressionGraph.Operands(graph[node])) deepest = Math.Max(deepest, _depth[operand]);
                _depth[node] = deepest + 1;
                if (_uses[node] < 2 && _depth[node] < InlineDepth) continue;
                EmitValue(node);
                var local = il.DeclareLocal(typeof(double));
                il.Emit(OpCodes.Stloc, local);
                _locals[node] = local;
                _depth[node] = 0;
            }
            for (var k = 0; k < outputs.Count; k++)
            {
                EmitAddress(OpCodes.Ldarg_S, 4, k);
                Load(outputs[k]);
                il.Emit(OpCodes.Stind_R8);
            }
            il.Emit(OpCodes.Ret);
        }

        private void EmitAddress(OpCode load, byte argument, int index)
        {
            il.Emit(load, argument);
            if (index == 0) return;
            il.Emit(OpCodes.Ldc_I4, index * sizeof(double));
            il.Emit(OpCodes.Conv_I);
            il.Emit(OpCodes.Add);
        }

        private void Load(int node)
        {
            if (_locals[node] is { } local) il.Emit(OpCodes.Ldloc, local);
            else EmitValue(node);
        }

        private void EmitValue(int index)
        {
            var node = graph[index];
            switch (node.Operation)
            {
                case Operation.Constant:
                    il.Emit(OpCodes.Ldc_R8, node.Value);
                    return;
                case Operation.Time:
                    il.Emit(OpCodes.Ldarg_1);
                    return;
                case Operation.State or Operation.Parameter:
                    EmitAddress(OpCodes.Ldarg_S, node.Operation == Operation.State ? (byte)2 : (byte)3, node.A);
                    il.Emit(OpCodes.Ldind_R8);
                    return;
                case Operation.Choose:
                    EmitChoose(node);
                    return;
            }
            Load(node.A);
            if (node.B >= 0) Load(node.B);
            switch (node.Operation)
            {
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
