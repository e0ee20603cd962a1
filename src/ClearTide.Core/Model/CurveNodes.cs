using ClearTide.Core.Expressions;

namespace ClearTide.Core.Model;

/// <summary>The laws of response curves as nodes of the graph, so that their numbers can be fitted like any other.</summary>
internal static class CurveNodes
{
    /// <param name="graph">Where nodes are made.</param>
    /// <param name="law">Any but that of points.</param>
    /// <param name="x">Node of the argument.</param>
    /// <param name="line">The node of one of the law's lines.</param>
    public static int Of(ExpressionGraph graph, CurveLaw law, int x, Func<PartField, int> line)
    {
        var (low, slope) = (line(PartField.Low), line(PartField.Slope));
        switch (law)
        {
            case CurveLaw.Linear:
                return graph.Add(low, graph.Multiply(slope, x));
            case CurveLaw.Exponential:
                return graph.Multiply(low, graph.Unary(Operation.Exp, graph.Multiply(slope, x)));
        }
        var (high, half) = (line(PartField.High), line(PartField.Half));
        var one = graph.Constant(1);
        // Both forms divide by one plus something that may grow without bound: the share then goes to zero instead of to not-a-number.
        var share =
            law == CurveLaw.Hill
                ? graph.Divide(one, graph.Add(one, graph.Power(graph.Divide(half, x), slope)))
                : graph.Divide(one, graph.Add(one, graph.Unary(Operation.Exp, graph.Multiply(slope, graph.Subtract(half, x)))));
        return graph.Add(low, graph.Multiply(graph.Subtract(high, low), share));
    }
}
