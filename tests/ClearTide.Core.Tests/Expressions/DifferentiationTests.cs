using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Units;
using CsCheck;

namespace ClearTide.Core.Tests.Expressions;

public class DifferentiationTests
{
    private static readonly string[] Leaves = ["x", "y", "3", "0.7"];

    /// <summary>Smooth formulas in x and y, whose values stay within a few powers of ten.</summary>
    private static readonly Gen<string> Smooth = Gen.Recursive<string>(
        (depth, inner) =>
            depth > 4
                ? Gen.Int[0, 3].Select(k => Leaves[k])
                : Gen.Frequency(
                    (2, Gen.Int[0, 3].Select(k => Leaves[k])),
                    (2, Gen.Select(inner, inner, (a, b) => $"({a} + {b})")),
                    (2, Gen.Select(inner, inner, (a, b) => $"({a} - {b})")),
                    (2, Gen.Select(inner, inner, (a, b) => $"({a} * {b})")),
                    (1, Gen.Select(inner, inner, (a, b) => $"({a} / (2 + ({b})^2))")),
                    (1, inner.Select(a => $"sin({a})")),
                    (1, inner.Select(a => $"tanh({a})")),
                    (1, inner.Select(a => $"exp(-({a})^2)")),
                    (1, inner.Select(a => $"ln(1 + ({a})^2)")),
                    (1, inner.Select(a => $"sqrt(1 + ({a})^2)")),
                    (1, inner.Select(a => $"atan({a})")),
                    (1, inner.Select(a => $"(1 + ({a})^2) ^ 1.5")),
                    (1, inner.Select(a => $"if({a} > 100000, 0, {a})"))
                )
    );

    private static (ExpressionGraph Graph, int Node) Bind(string text)
    {
        var graph = new ExpressionGraph();
        var tree = Formula.Read(text).Tree;
        Assert.NotNull(tree);
        return (graph, new FormulaBinder(graph, UnitTable.Of(TimeUnit.Day), name => graph.State(name == "x" ? 0 : 1)).Bind(tree));
    }

    [Fact]
    public void Symbolic_derivatives_agree_with_finite_differences()
    {
        var compared = 0;
        Gen.Select(Smooth, Gen.Double[-1.5, 1.5], Gen.Double[-1.5, 1.5])
            .Sample(
                (text, x, y) =>
                {
                    var (graph, node) = Bind(text);
                    var derivative = new Differentiation(graph, leaf =>
                        leaf.Operation == Operation.State && leaf.A == 0 ? graph.Constant(1) : -1
                    ).Of(node);
                    double At(double place) => graph.Evaluate(node, 0, [place, y], []);
                    // Fourth-order differences are worth comparing with only where three step lengths agree: a formula may oscillate
                    // faster than any of them.
                    double Difference(double h) => (8 * (At(x + h) - At(x - h)) - (At(x + 2 * h) - At(x - 2 * h))) / (12 * h);
                    var (coarse, middle, fine) = (Difference(1e-3), Difference(4.3e-4), Difference(1.9e-4));
                    var tolerance = 1e-4 * (1 + Math.Abs(middle));
                    if (!(Math.Abs(coarse - middle) < tolerance && Math.Abs(middle - fine) < tolerance))
                        return;
                    Interlocked.Increment(ref compared);
                    // Rounding adds 1e-16 of the value over the step length.
                    Assert.Equal(middle, graph.Evaluate(derivative, 0, [x, y], []), 5 * tolerance + 1e-11 * Math.Abs(At(x)));
                },
                iter: 2000
            );
        Assert.True(compared > 1000, $"only {compared} formulas could be compared");
    }

    [Fact]
    public unsafe void Compiled_code_gives_the_bits_of_the_walked_graph()
    {
        Gen.Select(Smooth, Gen.Double[-1.5, 1.5], Gen.Double[-1.5, 1.5])
            .Sample(
                (text, x, y) =>
                {
                    var (graph, node) = Bind(text);
                    double[] state = [x, y];
                    var result = 0.0;
                    fixed (double* s = state)
                        GraphCompiler.Compile(graph, [node])(0, s, null, &result);
                    Assert.Equal(
                        BitConverter.DoubleToInt64Bits(graph.Evaluate(node, 0, state, [])),
                        BitConverter.DoubleToInt64Bits(result)
                    );
                },
                iter: 300
            );
    }

    [Theory]
    [InlineData("x ^ 2", 6)]
    [InlineData("2 ^ x", 8 * 0.6931471805599453)]
    [InlineData("abs(x - 5)", -1)]
    [InlineData("max(x, 1)", 1)]
    [InlineData("min(x, 1)", 0)]
    [InlineData("floor(x)", 0)]
    [InlineData("asin(x / 10)", 0.10482848367219183)]
    [InlineData("cosh(x)", 10.017874927409903)]
    [InlineData("acosh(x)", 0.35355339059327373)]
    public void Each_rule_at_three(string text, double expected)
    {
        var (graph, node) = Bind(text);
        var derivative = new Differentiation(graph, leaf => leaf.Operation == Operation.State ? graph.Constant(1) : -1).Of(node);
        Assert.Equal(expected, graph.Evaluate(derivative, 0, [3, 0], []), 1e-12);
    }

    [Fact]
    public void Equal_parts_are_one_node()
    {
        var (graph, _) = Bind("(x + y) * (x + y) + sin(x + y)");
        Assert.Single(Enumerable.Range(0, graph.Count), k => graph[k].Operation == Operation.Add && graph[k].A == 0 && graph[k].B == 1);
    }
}
