using System.Reflection.Emit;
using ClearTide.Core.Expressions;

namespace ClearTide.Core.Stochastic;

/// <summary>The rate of one process alone.</summary>
/// <param name="time">In the model's unit of time.</param>
/// <param name="state">The states, in the order of the network.</param>
/// <param name="parameters">All parameters, in the order of the network.</param>
/// <param name="within">The place of the process within its method.</param>
internal unsafe delegate double SinglePropensity(double time, double* state, double* parameters, int within);

/// <summary>
/// Compiles rates so that each can be worked out without the others. Processes share methods, which choose by number, so that a model of a
/// thousand flows needs some ten methods and not a thousand.
/// </summary>
internal sealed unsafe class SinglePropensities
{
    /// <summary>Methods longer than this many nodes are not optimised well by the runtime.</summary>
    private const int LargestMethod = 600;

    private readonly SinglePropensity[] _methods;
    private readonly int[] _within;

    /// <param name="graph">The expressions of the rates.</param>
    /// <param name="rates">The node of each rate.</param>
    /// <param name="nodes">The nodes that each rate needs, in the order of the graph.</param>
    public SinglePropensities(ExpressionGraph graph, IReadOnlyList<int> rates, IReadOnlyList<int[]> nodes)
    {
        _methods = new SinglePropensity[rates.Count];
        _within = new int[rates.Count];
        for (var first = 0; first < rates.Count; )
        {
            var (last, size) = (first, 0);
            do size += nodes[last++].Length;
            while (last < rates.Count && size + nodes[last].Length <= LargestMethod);
            var method = Compile(graph, rates, nodes, first, last);
            for (var k = first; k < last; k++)
                (_methods[k], _within[k]) = (method, k - first);
            first = last;
        }
    }

    /// <summary>The rate of a process; below zero where it runs backwards.</summary>
    public double Of(int process, double time, double* state, double* parameters) =>
        _methods[process](time, state, parameters, _within[process]);

    private static SinglePropensity Compile(
        ExpressionGraph graph,
        IReadOnlyList<int> rates,
        IReadOnlyList<int[]> nodes,
        int first,
        int last
    )
    {
        // What these processes need, in a small graph of its own: an emitter looks through all of its graph.
        var part = new ExpressionGraph();
        var made = new Dictionary<int, int>();
        foreach (var node in nodes.Skip(first).Take(last - first).SelectMany(needed => needed).Distinct().Order())
            made[node] = part.Make(graph, graph[node], operand => made[operand]);
        var method = new DynamicMethod(
            "rate",
            typeof(double),
            [typeof(TableFunction[]), typeof(double), typeof(double*), typeof(double*), typeof(int)],
            typeof(SinglePropensities).Module,
            skipVisibility: true
        );
        var il = method.GetILGenerator();
        var cases = Enumerable.Range(first, last - first).Select(_ => il.DefineLabel()).ToArray();
        il.Emit(OpCodes.Ldarg_S, (byte)4);
        il.Emit(OpCodes.Switch, cases);
        il.Emit(OpCodes.Ldc_R8, double.NaN);
        il.Emit(OpCodes.Ret);
        for (var k = first; k < last; k++)
        {
            il.MarkLabel(cases[k - first]);
            var emitter = new GraphEmitter(part, [made[rates[k]]], il);
            emitter.EmitShared();
            emitter.Load(made[rates[k]]);
            il.Emit(OpCodes.Ret);
        }
        return method.CreateDelegate<SinglePropensity>(part.Tables.ToArray());
    }
}
