using System.Reflection.Emit;

namespace ClearTide.Core.Expressions;

/// <summary>
/// A compiled set of expressions: reads time, state and parameters, writes one number for each expression. No allocation, no state of its
/// own;
/// any number of threads may call it. The pointers must hold as many numbers as the graph's indices ask for; nothing is checked.
/// </summary>
public unsafe delegate void VectorFunction(double time, double* state, double* parameters, double* results);

/// <summary>
/// Compiles nodes of a graph to one method of intermediate language, collected when dropped. A node used once stays on the evaluation
/// stack, one used more often is computed once and kept in a local. Values used only behind an <c>if</c> are computed all the same:
/// they have no effects, and it keeps sharing simple.
/// </summary>
internal static class GraphCompiler
{
    /// <summary>The function of these nodes: compiled, or taken from earlier where the same content was compiled before.</summary>
    internal static VectorFunction Compile(ExpressionGraph graph, IReadOnlyList<int> outputs) =>
        CompiledFunctions.GetOrCompile(graph, outputs, "one", () => CompileAnew(graph, outputs));

    /// <summary>Larger functions are cut into several methods: the runtime stops optimising a method of some thousand locals.</summary>
    private const int LargestMethod = 1200;

    private static VectorFunction CompileAnew(ExpressionGraph graph, IReadOnlyList<int> outputs)
    {
        if (graph.Reachable(outputs).Count(needed => needed) > LargestMethod)
            return ChunkedFunction.Compile(graph, outputs, LargestMethod);
        return Emit(graph, outputs, il => new GraphEmitter(graph, outputs, il));
    }

    /// <summary>
    /// The function of these nodes over four sets of numbers at once: each place of state, parameters and results holds four doubles, one
    /// for each
    /// set; time is common to all. Null for a function too large for one method.
    /// </summary>
    internal static VectorFunction? CompileLanes(ExpressionGraph graph, IReadOnlyList<int> outputs) =>
        graph.Reachable(outputs).Count(needed => needed) > LargestMethod
            ? null
            : CompiledFunctions.GetOrCompile(graph, outputs, "lanes", () =>
                Emit(graph, outputs, il => new LaneEmitter(graph, outputs, il))
            );

    private static VectorFunction Emit(ExpressionGraph graph, IReadOnlyList<int> outputs, Func<ILGenerator, GraphEmitter> make)
    {
        var method = new DynamicMethod(
            "formulas",
            typeof(void),
            [typeof(TableFunction[]), typeof(double), typeof(double*), typeof(double*), typeof(double*)],
            typeof(GraphCompiler).Module,
            skipVisibility: true
        );
        var il = method.GetILGenerator();
        var emitter = make(il);
        emitter.EmitShared();
        for (var k = 0; k < outputs.Count; k++)
            emitter.EmitOutput(k);
        il.Emit(OpCodes.Ret);
        // A delegate closed over its first argument is called without a shuffling stub.
        return method.CreateDelegate<VectorFunction>(graph.Tables.ToArray());
    }
}
