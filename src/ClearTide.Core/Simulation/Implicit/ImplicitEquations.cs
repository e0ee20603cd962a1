using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>Blocks of equations with their compiled residuals and derivatives; immutable, for any number of threads.</summary>
internal sealed class ImplicitEquations
{
    /// <summary>For each block g, then the derivatives of g by its unknowns, row by row.</summary>
    private readonly VectorFunction[] _functions;

    private ImplicitEquations(ExpressionGraph shared, IReadOnlyList<ImplicitBlock> blocks)
    {
        var graph = shared.Fork();
        (Graph, Blocks) = (graph, blocks);
        _functions = [.. blocks.Select(block => GraphCompiler.Compile(graph, [.. block.Equations, .. Derivatives(graph, block)]))];
        graph.Freeze();
    }

    /// <summary>Null where there are no equations.</summary>
    public static ImplicitEquations? Of(ExpressionGraph graph, IReadOnlyList<ImplicitBlock> blocks) =>
        blocks.Count == 0 ? null : new(graph, blocks);

    public ExpressionGraph Graph { get; }

    /// <summary>In an order in which each may read those before it.</summary>
    public IReadOnlyList<ImplicitBlock> Blocks { get; }

    public VectorFunction Function(int block) => _functions[block];

    private static int[] Derivatives(ExpressionGraph graph, ImplicitBlock block)
    {
        var size = block.Slots.Count;
        var nodes = new int[size * size];
        for (var j = 0; j < size; j++)
        {
            var differentiation = new Differentiation(graph, _ => -1);
            differentiation.Fix(graph.Parameter(block.Slots[j]), graph.Constant(1));
            for (var i = 0; i < size; i++)
                nodes[i * size + j] = differentiation.Of(block.Equations[i]);
        }
        return nodes;
    }
}
