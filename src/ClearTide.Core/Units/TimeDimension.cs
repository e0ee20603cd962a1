using ClearTide.Core.Language;

namespace ClearTide.Core.Units;

/// <summary>
/// Works out the power of time in a line as far as its typed units tell: 1 for a duration, -1 for a rate, 0 for a number or an amount,
/// null where nothing says. Bare numbers say nothing: they take the unit of their surroundings.
/// </summary>
internal static class TimeDimension
{
    /// <param name="syntax">The formula.</param>
    /// <param name="units">The unit words of the study.</param>
    /// <param name="ofName">The power of time of a name, or null where it is not known.</param>
    public static int? Of(Syntax syntax, UnitTable units, Func<string, int?> ofName) =>
        syntax switch
        {
            NumberSyntax number => number.Unit is null ? null : Power(number.Unit, units),
            NameSyntax { Name: "t" } => 1,
            NameSyntax name => ofName(name.Name),
            PerSyntax { Number: not null } per => Of(per.Inner, units, ofName),
            PerSyntax per => (Of(per.Inner, units, ofName) ?? 0) - Power(per.Unit!, units),
            UnarySyntax unary => Of(unary.Operand, units, ofName),
            BinarySyntax { Operator: BinaryOperator.Add or BinaryOperator.Subtract } sum => Of(sum.Left, units, ofName)
                ?? Of(sum.Right, units, ofName),
            BinarySyntax { Operator: BinaryOperator.Multiply } product => Join(product, units, ofName, 1),
            BinarySyntax { Operator: BinaryOperator.Divide } quotient => Join(quotient, units, ofName, -1),
            _ => null,
        };

    private static int Power(UnitText unit, UnitTable units) => (int)Math.Round(units.Read(unit).Unit.TimePower);

    private static int? Join(BinarySyntax binary, UnitTable units, Func<string, int?> ofName, int sign)
    {
        var left = Part(binary.Left, units, ofName);
        var right = Part(binary.Right, units, ofName);
        return left is null || right is null ? null : left + sign * right;
    }

    /// <summary>A bare number inside a product scales it; alone it would say nothing.</summary>
    private static int? Part(Syntax syntax, UnitTable units, Func<string, int?> ofName) =>
        syntax is NumberSyntax { Unit: null } ? 0 : Of(syntax, units, ofName);
}
