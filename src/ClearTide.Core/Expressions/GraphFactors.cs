namespace ClearTide.Core.Expressions;

/// <summary>Looks for a node as a factor of a product.</summary>
internal static class GraphFactors
{
    /// <summary>The product with one factor replaced, or -1 where <paramref name="factor"/> is not a factor of
    /// <paramref name="node"/>.</summary>
    public static int Replace(ExpressionGraph graph, int node, int factor, int with)
    {
        if (node == factor)
            return with;
        var here = graph[node];
        switch (here.Operation)
        {
            case Operation.Multiply:
                if (Replace(graph, here.A, factor, with) is var left && left >= 0)
                    return graph.Multiply(left, here.B);
                return Replace(graph, here.B, factor, with) is var right && right >= 0 ? graph.Multiply(here.A, right) : -1;
            case Operation.Divide:
                return Replace(graph, here.A, factor, with) is var above && above >= 0 ? graph.Divide(above, here.B) : -1;
            case Operation.Negate:
                return Replace(graph, here.A, factor, with) is var inner && inner >= 0 ? graph.Negate(inner) : -1;
            default:
                return -1;
        }
    }
}
