using ClearTide.Core.Expressions;

namespace ClearTide.Core.Language;

/// <summary>A function of the formula language.</summary>
/// <param name="Name">As formulas write it.</param>
/// <param name="MinimumArguments">How many it takes at least.</param>
/// <param name="MaximumArguments">How many it takes at most.</param>
/// <param name="Usage">How it is written, for messages and help.</param>
/// <param name="Build">Makes its node from the nodes of its arguments; null where that takes a run's past (delays, smoothing), which the
/// caller knows.</param>
public sealed record FunctionDefinition(
    string Name,
    int MinimumArguments,
    int MaximumArguments,
    string Usage,
    Func<ExpressionGraph, int[], int>? Build
)
{
    /// <summary>A function is its name.</summary>
    /// <param name="other">What it is compared with.</param>
    public bool Equals(FunctionDefinition? other) => Name == other?.Name;

    /// <inheritdoc/>
    public override int GetHashCode() => Name.GetHashCode(StringComparison.Ordinal);
}

/// <summary>The functions of the formula language, by name.</summary>
public static class Functions
{
    private static readonly Dictionary<string, FunctionDefinition> ByName = Defined()
        .ToDictionary(function => function.Name, StringComparer.Ordinal);

    /// <summary>A quantity at an earlier time.</summary>
    public const string Delay = "delay";

    /// <summary>A quantity that follows another with an average lag.</summary>
    public const string Smooth = "smooth";

    /// <summary>The names that formulas can call.</summary>
    public static IEnumerable<string> Names => ByName.Keys;

    /// <summary>All functions that formulas can call.</summary>
    public static IEnumerable<FunctionDefinition> All => ByName.Values;

    /// <summary>The function of this name, or null.</summary>
    /// <param name="name">The name.</param>
    public static FunctionDefinition? Find(string name) => ByName.GetValueOrDefault(name);

    private static IEnumerable<FunctionDefinition> Defined()
    {
        foreach (
            var (name, operation) in new (string, Operation)[]
            {
                ("exp", Operation.Exp),
                ("ln", Operation.Log),
                ("sqrt", Operation.Sqrt),
                ("abs", Operation.Abs),
                ("floor", Operation.Floor),
                ("ceil", Operation.Ceiling),
                ("factorial", Operation.Factorial),
                ("sin", Operation.Sin),
                ("cos", Operation.Cos),
                ("tan", Operation.Tan),
                ("asin", Operation.Asin),
                ("acos", Operation.Acos),
                ("atan", Operation.Atan),
                ("sinh", Operation.Sinh),
                ("cosh", Operation.Cosh),
                ("tanh", Operation.Tanh),
                ("asinh", Operation.Asinh),
                ("acosh", Operation.Acosh),
                ("atanh", Operation.Atanh),
            }
        )
        {
            yield return new(name, 1, 1, $"{name}(x)", (graph, a) => graph.Unary(operation, a[0]));
        }
        yield return new("log10", 1, 1, "log10(x)", (graph, a) =>
            graph.Divide(graph.Unary(Operation.Log, a[0]), graph.Constant(Math.Log(10)))
        );
        yield return new("root", 2, 2, "root(degree, x)", (graph, a) => graph.Power(a[1], graph.Divide(graph.Constant(1), a[0])));
        yield return new("mod", 2, 2, "mod(x, divisor)", (graph, a) =>
            graph.Subtract(a[0], graph.Multiply(a[1], graph.Unary(Operation.Floor, graph.Divide(a[0], a[1]))))
        );
        yield return new("round", 1, 1, "round(x)", (graph, a) => graph.Unary(Operation.Floor, graph.Add(a[0], graph.Constant(0.5))));
        yield return new("min", 1, 50, "min(a, b, ...)", (graph, a) => a.Aggregate((x, y) => graph.Binary(Operation.Min, x, y)));
        yield return new("max", 1, 50, "max(a, b, ...)", (graph, a) => a.Aggregate((x, y) => graph.Binary(Operation.Max, x, y)));
        yield return new(Delay, 2, 3, "delay(x, time) or delay(x, time, value before the start)", null);
        yield return new(Smooth, 2, 3, "smooth(x, time) or smooth(x, time, stages)", null);
        yield return new("if", 3, 3, "if(condition, then, else)", (graph, a) => graph.Choose(a[0], a[1], a[2]));
    }
}
