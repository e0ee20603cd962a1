using ClearTide.Core.Expressions;

namespace ClearTide.Core.Tests.Expressions;

/// <summary>The graph of expressions: common parts shared, simplified as they are made, and the same by walking and compiled.</summary>
public class GraphTests
{
    private readonly ExpressionGraph _graph = new();

    private double Value(int node, double time = 0, double[]? state = null, double[]? parameters = null) =>
        _graph.Evaluate(node, time, state ?? [], parameters ?? []);

    [Fact]
    public void The_same_operation_on_the_same_operands_is_one_node()
    {
        var (x, y) = (_graph.State(0), _graph.State(1));
        Assert.Equal(_graph.Add(x, y), _graph.Add(x, y));
        Assert.Equal(_graph.Unary(Operation.Exp, x), _graph.Unary(Operation.Exp, x));
        Assert.NotEqual(_graph.Subtract(x, y), _graph.Subtract(y, x));
        Assert.Equal(_graph.Constant(0.0), _graph.Constant(-0.0));
        var count = _graph.Count;
        _graph.Add(x, y);
        Assert.Equal(count, _graph.Count);
    }

    [Fact]
    public void What_a_number_decides_is_simplified()
    {
        var (x, y, zero, one) = (_graph.State(0), _graph.State(1), _graph.Constant(0), _graph.Constant(1));
        Assert.Equal(x, _graph.Add(x, zero));
        Assert.Equal(x, _graph.Multiply(one, x));
        Assert.Equal(zero, _graph.Multiply(x, zero));
        Assert.Equal(zero, _graph.Subtract(x, x));
        Assert.Equal(x, _graph.Negate(_graph.Negate(x)));
        Assert.Equal(_graph.Negate(x), _graph.Subtract(zero, x));
        Assert.Equal(_graph.Subtract(x, y), _graph.Add(x, _graph.Negate(y)));
        Assert.Equal(x, _graph.Divide(x, one));
        Assert.Equal(_graph.Constant(12), _graph.Multiply(_graph.Constant(3), _graph.Constant(4)));
        Assert.Equal(x, _graph.Choose(one, x, zero));
        Assert.Equal(zero, _graph.Choose(zero, x, zero));
    }

    [Fact]
    public void Nothing_over_nothing_is_not_decided_beforehand()
    {
        var zero = _graph.Constant(0);
        Assert.True(double.IsNaN(Value(_graph.Divide(zero, zero))));
        Assert.Equal(double.PositiveInfinity, Value(_graph.Divide(_graph.Constant(1), zero)));
        // 0 / x is 0 wherever x is not.
        Assert.Equal(0, Value(_graph.Divide(zero, _graph.State(0)), state: [5]));
    }

    [Fact]
    public void Only_what_a_root_needs_is_reachable()
    {
        var (x, y) = (_graph.State(0), _graph.State(1));
        var (sum, product) = (_graph.Add(x, y), _graph.Multiply(x, x));
        var needed = _graph.Reachable([product]);
        Assert.True(needed[x] && needed[product]);
        Assert.False(needed[y] || needed[sum]);
    }

    [Fact]
    public void Operands_always_come_before_the_node()
    {
        var x = _graph.State(0);
        _graph.Choose(_graph.Binary(Operation.Less, x, _graph.Time()), _graph.Unary(Operation.Sin, x), _graph.Power(x, _graph.Constant(3)));
        for (var node = 0; node < _graph.Count; node++)
            Assert.All(ExpressionGraph.Operands(_graph[node]), operand => Assert.True(operand < node));
    }

    [Fact]
    public void A_copy_into_another_graph_is_worth_the_same()
    {
        var (x, t) = (_graph.State(0), _graph.Time());
        var node = _graph.Add(_graph.Multiply(x, _graph.Unary(Operation.Exp, _graph.Negate(t))), _graph.Parameter(1));
        var other = new ExpressionGraph();
        other.Constant(99);
        var made = new Dictionary<int, int>();
        for (var k = 0; k <= node; k++)
            made[k] = other.Make(_graph, _graph[k], operand => made[operand]);
        Assert.Equal(Value(node, 2, [3], [0, 7]), other.Evaluate(made[node], 2, [3], [0, 7]));
    }

    /// <summary>Every operation on places that it is defined at, against the library's own functions.</summary>
    public static TheoryData<Operation, double, double, double> Operations =>
        new()
        {
            { Operation.Power, 2.5, 1.5, Math.Pow(2.5, 1.5) },
            { Operation.Exp, 0.7, 0, Math.Exp(0.7) },
            { Operation.Log, 0.7, 0, Math.Log(0.7) },
            { Operation.Sqrt, 0.7, 0, Math.Sqrt(0.7) },
            { Operation.Abs, -0.7, 0, 0.7 },
            { Operation.Floor, -0.7, 0, -1 },
            { Operation.Ceiling, -0.7, 0, 0 },
            { Operation.Factorial, 5, 0, 120 },
            { Operation.Factorial, 171, 0, double.PositiveInfinity },
            { Operation.Factorial, 2.5, 0, double.NaN },
            { Operation.Sin, 0.7, 0, Math.Sin(0.7) },
            { Operation.Cos, 0.7, 0, Math.Cos(0.7) },
            { Operation.Tan, 0.7, 0, Math.Tan(0.7) },
            { Operation.Asin, 0.7, 0, Math.Asin(0.7) },
            { Operation.Acos, 0.7, 0, Math.Acos(0.7) },
            { Operation.Atan, 0.7, 0, Math.Atan(0.7) },
            { Operation.Sinh, 0.7, 0, Math.Sinh(0.7) },
            { Operation.Cosh, 0.7, 0, Math.Cosh(0.7) },
            { Operation.Tanh, 0.7, 0, Math.Tanh(0.7) },
            { Operation.Asinh, 0.7, 0, Math.Asinh(0.7) },
            { Operation.Acosh, 1.7, 0, Math.Acosh(1.7) },
            { Operation.Atanh, 0.7, 0, Math.Atanh(0.7) },
            { Operation.Min, 2, 3, 2 },
            { Operation.Max, 2, 3, 3 },
            { Operation.Less, 2, 3, 1 },
            { Operation.Less, 3, 3, 0 },
            { Operation.LessOrEqual, 3, 3, 1 },
            { Operation.Equal, 3, 3, 1 },
            { Operation.And, 3, 0, 0 },
            { Operation.Or, 3, 0, 1 },
            { Operation.Not, 3, 0, 0 },
        };

    [Theory]
    [MemberData(nameof(Operations))]
    public unsafe void Walked_folded_compiled_and_in_lanes_it_comes_to_the_same(Operation operation, double x, double y, double expected)
    {
        static bool IsBinary(Operation one) =>
            one
                is Operation.Power
                    or Operation.Min
                    or Operation.Max
                    or Operation.Less
                    or Operation.LessOrEqual
                    or Operation.Equal
                    or Operation.And
                    or Operation.Or;
        int Make(int a, int b) =>
            operation == Operation.Power ? _graph.Power(a, b)
            : IsBinary(operation) ? _graph.Binary(operation, a, b)
            : _graph.Unary(operation, a);
        var folded = Make(_graph.Constant(x), _graph.Constant(y));
        Assert.Equal(expected, Value(folded));
        var node = Make(_graph.State(0), _graph.State(1));
        Assert.Equal(expected, Value(node, state: [x, y]));
        double* state = stackalloc double[] { x, y };
        double result = 0;
        GraphCompiler.Compile(_graph, [node])(0, state, null, &result);
        Assert.Equal(expected, result);
        if (GraphCompiler.CompileLanes(_graph, [node]) is not { } lanes)
            return;
        double* four = stackalloc double[] { x, x, x, x, y, y, y, y };
        double* results = stackalloc double[4];
        lanes(0, four, null, results);
        for (var lane = 0; lane < 4; lane++)
            Assert.Equal(expected, results[lane]);
    }

    [Fact]
    public unsafe void A_function_cut_into_several_methods_comes_to_the_same_as_one()
    {
        // A chain in which each link needs the one before and the first: what is needed later has to be kept between methods.
        var (x, y) = (_graph.State(0), _graph.State(1));
        var link = x;
        var outputs = new List<int>();
        for (var k = 0; k < 60; k++)
        {
            link = _graph.Add(_graph.Multiply(link, _graph.Constant(0.9)), _graph.Unary(Operation.Sin, _graph.Add(y, _graph.Constant(k))));
            if (k % 7 == 0)
                outputs.Add(_graph.Multiply(link, x));
        }
        double* state = stackalloc double[] { 1.25, -0.5 };
        var (whole, cut) = (new double[outputs.Count], new double[outputs.Count]);
        fixed (
            double* one = whole,
                other = cut
        )
        {
            GraphCompiler.Compile(_graph, outputs)(0, state, null, one);
            ChunkedFunction.Compile(_graph, outputs, 10)(0, state, null, other);
        }
        Assert.Equal(whole, cut);
        Assert.Equal(whole, outputs.Select(node => Value(node, state: [1.25, -0.5])));
    }

    [Fact]
    public void A_factor_is_replaced_where_it_stands_in_a_product_and_nowhere_else()
    {
        var (x, y, z) = (_graph.State(0), _graph.State(1), _graph.State(2));
        var product = _graph.Divide(_graph.Multiply(_graph.Negate(x), y), z);
        Assert.Equal(_graph.Divide(_graph.Multiply(_graph.Negate(z), y), z), GraphFactors.Replace(_graph, product, x, z));
        Assert.Equal(-1, GraphFactors.Replace(_graph, _graph.Add(x, y), x, z));
        // What it is divided by is no factor.
        Assert.Equal(-1, GraphFactors.Replace(_graph, _graph.Divide(y, x), x, z));
    }

    [Fact]
    public void A_reader_follows_its_values_also_while_the_graph_grows()
    {
        var (x, rate) = (_graph.State(0), _graph.Parameter(0));
        var node = _graph.Choose(_graph.Binary(Operation.Less, _graph.Time(), _graph.Constant(2)), _graph.Multiply(rate, x), rate);
        var reader = new NodeReader(_graph, node);
        Assert.Equal(15, reader.Value(1, [5], [3]));
        Assert.Equal(3, reader.Value(2, [5], [3]));
        _graph.Multiply(x, x);
        Assert.Equal(28, reader.Value(0, [4], [7]));
        Assert.Equal(7, reader.Value(9, [4], [7]));
    }
}
