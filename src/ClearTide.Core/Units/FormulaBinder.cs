using ClearTide.Core.Expressions;
using ClearTide.Core.Language;

namespace ClearTide.Core.Units;

/// <summary>
/// Turns a formula's tree into graph nodes. Numbers with a unit are converted to the study's units: times to its unit of time,
/// units that are so many of another to the other.
/// </summary>
/// <param name="graph">Where nodes are made.</param>
/// <param name="units">The unit words of the study.</param>
/// <param name="resolve">The node of a name, or -1 where it is not known (which counts as zero; the caller has reported it).</param>
/// <param name="call">The node of a call that depends on the study: its own functions, delays and smoothing. Without it, such a call
/// counts as zero.</param>
public sealed class FormulaBinder(
    ExpressionGraph graph,
    UnitTable units,
    Func<string, int> resolve,
    Func<Syntax, FormulaBinder, int>? call = null
)
{
    /// <summary>The node of a formula in the graph.</summary>
    /// <param name="syntax">The formula; its names must be known to the binder.</param>
    public int Bind(Syntax syntax) =>
        syntax switch
        {
            NumberSyntax number => graph.Constant(number.Unit is null ? number.Value : number.Value * units.Read(number.Unit).Scale),
            NameSyntax { Name: "t" } => graph.Time(),
            NameSyntax name => resolve(name.Name) is var node && node >= 0 ? node : graph.Constant(0),
            UnarySyntax { Operator: UnaryOperator.Negate } unary => graph.Negate(Bind(unary.Operand)),
            UnarySyntax unary => graph.Unary(Operation.Not, Bind(unary.Operand)),
            BinarySyntax binary => Binary(binary),
            CallSyntax { Function.Build: { } build } known => build(graph, [.. known.Arguments.Select(Bind)]),
            CallSyntax or UserCallSyntax => call is null ? graph.Constant(0) : call(syntax, this),
            PerSyntax per => graph.Divide(Bind(per.Inner), graph.Constant(per.Number ?? units.Read(per.Unit!).Scale)),
            _ => throw new InvalidOperationException($"A {syntax.GetType().Name} cannot be bound."),
        };

    private int Binary(BinarySyntax binary)
    {
        var left = Bind(binary.Left);
        var right = Bind(binary.Right);
        return binary.Operator switch
        {
            BinaryOperator.Add => graph.Add(left, right),
            BinaryOperator.Subtract => graph.Subtract(left, right),
            BinaryOperator.Multiply => graph.Multiply(left, right),
            BinaryOperator.Divide => graph.Divide(left, right),
            BinaryOperator.Power => graph.Power(left, right),
            BinaryOperator.Less => graph.Binary(Operation.Less, left, right),
            BinaryOperator.LessOrEqual => graph.Binary(Operation.LessOrEqual, left, right),
            BinaryOperator.Greater => graph.Binary(Operation.Less, right, left),
            BinaryOperator.GreaterOrEqual => graph.Binary(Operation.LessOrEqual, right, left),
            BinaryOperator.Equal => graph.Binary(Operation.Equal, left, right),
            BinaryOperator.NotEqual => graph.Unary(Operation.Not, graph.Binary(Operation.Equal, left, right)),
            BinaryOperator.And => graph.Binary(Operation.And, left, right),
            BinaryOperator.Or => graph.Binary(Operation.Or, left, right),
            _ => throw new InvalidOperationException($"{binary.Operator} cannot be bound."),
        };
    }

    /// <summary>The value of a line without names, in the study's units.</summary>
    /// <param name="plain">A formula without names.</param>
    /// <param name="units">The units of the study.</param>
    public static double ValueOf(Syntax plain, UnitTable units)
    {
        var graph = new ExpressionGraph();
        return graph.Evaluate(new FormulaBinder(graph, units, _ => -1).Bind(plain), 0, [], []);
    }
}
