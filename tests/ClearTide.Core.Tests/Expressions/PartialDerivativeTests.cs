using ClearTide.Core.Expressions;
using ClearTide.Core.Language;

namespace ClearTide.Core.Tests.Expressions;

public class PartialDerivativeTests
{
    [Fact]
    public void Only_entries_that_can_differ_from_zero_are_there()
    {
        var graph = new ExpressionGraph();
        var (s, i, n) = (graph.State(0), graph.State(1), graph.Parameter(0));
        var infection = graph.Divide(graph.Multiply(s, i), n);
        var (entries, byTime) = PartialDerivatives.Of(graph, [graph.Negate(infection), infection, graph.Multiply(n, graph.Time()), n], 3);
        Assert.Equal([(0, 0), (0, 1), (1, 0), (1, 1)], entries.Select(entry => (entry.Row, entry.Column)).Order());
        double Value(int node) => graph.Evaluate(node, 2, [30, 5, 7], [100]);
        Assert.Equal(
            [-0.05, -0.3, 0.05, 0.3],
            entries.OrderBy(entry => entry.Row).ThenBy(entry => entry.Column).Select(entry => Value(entry.Node))
        );
        Assert.Equal([0, 0, 100, 0], byTime.Select(Value));
    }

    [Fact]
    public void They_agree_with_derivatives_along_each_direction()
    {
        var graph = new ExpressionGraph();
        int X(int k) => graph.State(k);
        int[] roots =
        [
            graph.Multiply(graph.Unary(Operation.Exp, X(0)), graph.Unary(Operation.Sin, graph.Multiply(X(1), graph.Time()))),
            graph.Choose(graph.Binary(Operation.Less, X(2), X(0)), graph.Power(X(0), graph.Constant(3)), X(2)),
            graph.Power(graph.Add(X(0), X(1)), X(2)),
            graph.Divide(X(3), graph.Add(graph.Constant(1), graph.Unary(Operation.Abs, X(2)))),
        ];
        var (entries, byTime) = PartialDerivatives.Of(graph, roots, 4);
        double[] state = [0.7, 0.4, 0.3, 2];
        for (var column = 0; column <= 4; column++)
        {
            var along = new Differentiation(graph, node =>
                (node.Operation == Operation.State && node.A == column) || (column == 4 && node.Operation == Operation.Time)
                    ? graph.Constant(1)
                    : -1
            );
            for (var row = 0; row < roots.Length; row++)
            {
                var node =
                    column == 4
                        ? byTime[row]
                        : entries
                            .Where(entry => entry.Row == row && entry.Column == column)
                            .Select(entry => entry.Node)
                            .DefaultIfEmpty(graph.Constant(0))
                            .Single();
                Assert.Equal(graph.Evaluate(along.Of(roots[row]), 1.3, state, []), graph.Evaluate(node, 1.3, state, []), 1e-14);
            }
        }
    }

    [Theory]
    [InlineData(10)]
    [InlineData(700)]
    [InlineData(3000)]
    public unsafe void A_function_cut_into_several_methods_computes_the_same(int states)
    {
        var graph = new ExpressionGraph();
        var total = Enumerable.Range(0, states).Aggregate(graph.Constant(0), (sum, k) => graph.Add(sum, graph.State(k)));
        var outputs = Enumerable
            .Range(0, states)
            .Select(k =>
            {
                var rate = graph.Divide(graph.Multiply(graph.State(k), graph.State((7 * k + 3) % states)), total);
                return graph.Subtract(graph.Unary(Operation.Sqrt, rate), graph.Multiply(graph.Parameter(0), graph.Add(rate, graph.Time())));
            })
            .Append(total)
            .ToArray();
        var state = Enumerable.Range(0, states).Select(k => 1 + 0.37 * (k % 11)).ToArray();
        var results = new double[outputs.Length];
        fixed (double* y = state)
        fixed (double* p = new[] { 0.21 })
        fixed (double* r = results)
        {
            GraphCompiler.Compile(graph, outputs)(1.5, y, p, r);
        }
        // Walking the graph does the same operations in the same order: not a bit may differ. Every fiftieth output is walked.
        for (var k = 0; k < outputs.Length; k += 50)
            Assert.Equal(graph.Evaluate(outputs[k], 1.5, state, [0.21]), results[k]);
        Assert.Equal(state.Sum(), results[^1], 1e-9);
    }
}
