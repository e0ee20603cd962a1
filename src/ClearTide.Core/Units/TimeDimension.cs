using ClearTide.Core.Formulas;

namespace ClearTide.Core.Units;

/// <summary>
/// Works out the power of time in a line as far as its typed units tell: 1 for a duration, -1 for a rate, 0 for a number or an amount,
/// null where nothing says. Bare numbers say nothing: they take the unit of their surroundings.
/// </summary>
public static class TimeDimension
{
    /// <param name="ofName">The power of time of a name, or null where it is not known.</param>
    public static int? Of(Syntax syntax, Func<string, int?> ofName) => syntax switch
    {
        NumberSyntax number => number.Unit?.TimePower,
        NameSyntax { Name: "t" } => 1,
        NameSyntax name => ofName(name.Name),
        PerSyntax { Number: not null } per => Of(per.Inner, ofName),
        PerSyntax per => (Of(per.Inner, ofName) ?? 0) - per.Unit!.TimePower,
        UnarySyntax unary => Of(unary.Operand, ofName),
        BinarySyntax { Operator: BinaryOperator.Add or BinaryOperator.Subtract } sum => Of(sum.Left, ofName) ?? Of(sum.Right, ofName),
        BinarySyntax { Operator: BinaryOperator.Multiply } product => Join(product, ofName, 1),
        BinarySyntax { Operator: BinaryOperator.Divide } quotient => Join(quotient, ofName, -1),
        _ => null,
    };

    private static int? Join(BinarySyntax binary, Func<string, int?> ofName, int sign)
    {
        var left = Part(binary.Left, ofName);
        var right = Part(binary.Right, ofName);
        return left is null || right is null ? null : left + sign * right;
    }

    /// <summary>A bare number inside a product scales it; alone it would say nothing.</summary>
    private static int? Part(Syntax syntax, Func<string, int?> ofName) => syntax is NumberSyntax { Unit: null } ? 0 : Of(syntax, ofName);
}
