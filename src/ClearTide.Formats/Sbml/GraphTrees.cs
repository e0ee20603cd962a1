using ClearTide.Core.Expressions;
using ClearTide.Core.Language;

namespace ClearTide.Formats.Sbml;

/// <summary>Writes nodes of an expression graph as trees of the formula language.</summary>
/// <param name="named">The tree that stands for a node where it has a name; null for what it is made of. Asked of every node but the one
/// that is defined.</param>
internal sealed class GraphTrees(ExpressionGraph graph, Func<int, Syntax?> named)
{
    private const int LongestFormula = 100_000;

    private int _written;

    /// <summary>The tree of a node.</summary>
    /// <param name="defines">Whether the tree says what the node's own name stands for.</param>
    /// <exception cref="SbmlException">It would be longer than any file should hold.</exception>
    public Syntax Of(int node, bool defines = false)
    {
        _written = 0;
        return defines ? Made(node) : Node(node);
    }

    private Syntax Node(int node) => named(node) ?? Made(node);

    private Syntax Made(int node)
    {
        if (++_written > LongestFormula)
            throw new SbmlException(
                "A formula of this model becomes too long when it is written out. Give its parts names of their own in Build."
            );
        var (operation, a, b, c, value) = graph[node];
        return operation switch
        {
            Operation.Constant => MathReader.Of(value),
            Operation.Time => new NameSyntax(default, "t"),
            Operation.Negate => new UnarySyntax(default, UnaryOperator.Negate, Node(a)),
            Operation.Not => new UnarySyntax(default, UnaryOperator.Not, Node(a)),
            Operation.Choose => MathReader.Call("if", Node(a), Node(b), Node(c)),
            Operation.Lookup => TableTrees.Write(graph.Tables[(int)value], Node(a)),
            _ when Signs.TryGetValue(operation, out var sign) => new BinarySyntax(default, sign, Node(a), Node(b)),
            _ when b >= 0 => MathReader.Call(Words[operation], Node(a), Node(b)),
            _ => MathReader.Call(Words[operation], Node(a)),
        };
    }

    private static readonly Dictionary<Operation, BinaryOperator> Signs = new()
    {
        [Operation.Add] = BinaryOperator.Add,
        [Operation.Subtract] = BinaryOperator.Subtract,
        [Operation.Multiply] = BinaryOperator.Multiply,
        [Operation.Divide] = BinaryOperator.Divide,
        [Operation.Power] = BinaryOperator.Power,
        [Operation.Less] = BinaryOperator.Less,
        [Operation.LessOrEqual] = BinaryOperator.LessOrEqual,
        [Operation.Equal] = BinaryOperator.Equal,
        [Operation.And] = BinaryOperator.And,
        [Operation.Or] = BinaryOperator.Or,
    };

    private static readonly Dictionary<Operation, string> Words = new()
    {
        [Operation.Exp] = "exp",
        [Operation.Log] = "ln",
        [Operation.Sqrt] = "sqrt",
        [Operation.Abs] = "abs",
        [Operation.Floor] = "floor",
        [Operation.Ceiling] = "ceil",
        [Operation.Factorial] = "factorial",
        [Operation.Sin] = "sin",
        [Operation.Cos] = "cos",
        [Operation.Tan] = "tan",
        [Operation.Asin] = "asin",
        [Operation.Acos] = "acos",
        [Operation.Atan] = "atan",
        [Operation.Sinh] = "sinh",
        [Operation.Cosh] = "cosh",
        [Operation.Tanh] = "tanh",
        [Operation.Asinh] = "asinh",
        [Operation.Acosh] = "acosh",
        [Operation.Atanh] = "atanh",
        [Operation.Min] = "min",
        [Operation.Max] = "max",
    };
}
