namespace ClearTide.Core.Language;

/// <summary>Writes a tree as it would be typed, with no more parentheses than reading it back needs: reading the text gives the same
/// tree.</summary>
public static class FormulaText
{
    /// <summary>A tree as it would be typed, with no more brackets than it needs.</summary>
    /// <param name="tree">The formula.</param>
    public static string Of(Syntax tree) =>
        tree switch
        {
            NumberSyntax number => number.Text
                + (
                    number.Percent ? "%"
                    : number.Unit is null ? ""
                    : " " + number.Unit.Text.Replace('·', '*')
                ),
            NameSyntax name => MemberName.Print(name.Name),
            UnarySyntax { Operator: UnaryOperator.Negate } unary => "-" + Inside(unary.Operand, Strength.Unary),
            UnarySyntax unary => "not "
                + Inside(unary.Operand, unary.Operand is UnarySyntax { Operator: UnaryOperator.Not } ? Strength.Not : Strength.Comparison),
            BinarySyntax binary => Binary(binary),
            CallSyntax call => Call(call.Function.Name, call.Arguments),
            UserCallSyntax call => Call(call.Callee.Name, call.Arguments),
            SumSyntax sum => $"sum({sum.Variable.Name} in {sum.Group.Name}, {Inside(sum.Term, Strength.Or)})",
            PerSyntax per => $"{(IsBareSum(per.Inner) ? Inside(per.Inner, Strength.Product) : Of(per.Inner))} per "
                + $"{(per.Number is { } number ? TypedNumber.Exact(number) : per.Unit!.Text.Replace('·', '*'))}",
            _ => throw new InvalidOperationException($"A {tree.GetType().Name} cannot be written."),
        };

    /// <summary>The sign of an operator as it is typed.</summary>
    /// <param name="op">The operator.</param>
    public static string Sign(BinaryOperator op) =>
        op switch
        {
            BinaryOperator.Or => "or",
            BinaryOperator.And => "and",
            BinaryOperator.Less => "<",
            BinaryOperator.LessOrEqual => "<=",
            BinaryOperator.Greater => ">",
            BinaryOperator.GreaterOrEqual => ">=",
            BinaryOperator.Equal => "==",
            BinaryOperator.NotEqual => "!=",
            BinaryOperator.Add => "+",
            BinaryOperator.Subtract => "-",
            BinaryOperator.Multiply => "*",
            BinaryOperator.Divide => "/",
            _ => "^",
        };

    /// <summary>How strongly each kind of node holds together, weakest first.</summary>
    private static class Strength
    {
        public const int Per = 0,
            Or = 1,
            And = 2,
            Not = 3,
            Comparison = 4,
            Sum = 5,
            Product = 6,
            Unary = 7,
            Power = 8,
            Atom = 9;
    }

    private static int StrengthOf(Syntax tree) =>
        tree switch
        {
            PerSyntax => Strength.Per,
            BinarySyntax binary => StrengthOf(binary.Operator),
            UnarySyntax { Operator: UnaryOperator.Not } => Strength.Not,
            UnarySyntax => Strength.Unary,
            _ => Strength.Atom,
        };

    private static int StrengthOf(BinaryOperator op) =>
        op switch
        {
            BinaryOperator.Or => Strength.Or,
            BinaryOperator.And => Strength.And,
            BinaryOperator.Add or BinaryOperator.Subtract => Strength.Sum,
            BinaryOperator.Multiply or BinaryOperator.Divide => Strength.Product,
            BinaryOperator.Power => Strength.Power,
            _ => Strength.Comparison,
        };

    private static string Inside(Syntax tree, int least) => StrengthOf(tree) < least ? $"({Of(tree)})" : Of(tree);

    private static bool IsBareSum(Syntax tree) => tree is BinarySyntax { Operator: BinaryOperator.Add or BinaryOperator.Subtract };

    private static string Binary(BinarySyntax binary)
    {
        var own = StrengthOf(binary.Operator);
        if (binary.Operator == BinaryOperator.Power)
            return $"{Inside(binary.Left, Strength.Atom)} ^ {Inside(binary.Right, Strength.Unary)}";
        // Operators of one strength group from the left; comparisons do not group at all.
        var left = own == Strength.Comparison ? Strength.Sum : own;
        var right = Inside(binary.Right, own + 1);
        // A number over a number with a unit is refused as ambiguous unless the unit stands in parentheses.
        if (binary is { Operator: BinaryOperator.Divide, Left: NumberSyntax { Unit: null }, Right: NumberSyntax { Unit: not null } })
            right = $"({right})";
        return $"{Inside(binary.Left, left)} {Sign(binary.Operator)} {right}";
    }

    private static string Call(string name, IReadOnlyList<Syntax> arguments) =>
        $"{name}({string.Join(", ", arguments.Select(argument => Inside(argument, Strength.Or)))})";
}
