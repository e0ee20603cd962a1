using System.Globalization;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Print;

/// <summary>A formula as LaTeX, for mathematics mode. Everything that LaTeX would take for a command is escaped.</summary>
public static class Latex
{
    public static string Of(Syntax tree) => Row(tree);

    /// <summary>A symbol: Greek names become letters, longer names stand upright, what follows an underscore goes below.</summary>
    public static string Symbol(string symbol)
    {
        if (MemberName.IndicesOf(symbol) is { Count: > 0 } indices)
            return $"{Symbol(MemberName.BaseOf(symbol))}_{{{string.Join(",", indices.Select(Symbol))}}}";
        if (ModuleName.Of(symbol) is { Length: > 0 } module)
            return $"\\mathrm{{{Escape(module)}.}}{Symbol(ModuleName.Inner(symbol))}";
        var cut = symbol.IndexOf('_', StringComparison.Ordinal);
        if (cut <= 0 || cut == symbol.Length - 1)
            return Name(symbol);
        var head = Name(symbol[..cut]);
        return $"{head}_{{\\mathrm{{{Escape(symbol[(cut + 1)..])}}}}}";
    }

    private static string Name(string name) =>
        Symbols.Greek.ContainsKey(name) ? "\\" + name
        : name.Length == 1 ? name
        : $"\\mathrm{{{Escape(name)}}}";

    /// <summary>Text with the signs that LaTeX reads as commands made harmless.</summary>
    public static string Escape(string text) =>
        string.Concat(
            text.Select(c =>
                c switch
                {
                    '\\' => "\\textbackslash{}",
                    '^' => "\\textasciicircum{}",
                    '~' => "\\textasciitilde{}",
                    '&' or '%' or '$' or '#' or '_' or '{' or '}' => "\\" + c,
                    _ => c.ToString(),
                }
            )
        );

    private static string Row(Syntax tree) =>
        tree switch
        {
            NumberSyntax number => Number(number),
            NameSyntax name => Symbol(name.Name),
            UnarySyntax { Operator: UnaryOperator.Negate } unary => "-" + Inside(unary.Operand, 6),
            UnarySyntax unary => "\\text{not }" + Inside(unary.Operand, 3),
            BinarySyntax { Operator: BinaryOperator.Divide } quotient => $"\\frac{{{Row(quotient.Left)}}}{{{Row(quotient.Right)}}}",
            BinarySyntax { Operator: BinaryOperator.Power } power => $"{Inside(power.Left, 8)}^{{{Row(power.Right)}}}",
            BinarySyntax binary => $"{Inside(binary.Left, Strength(binary))} {Sign(binary.Operator)} "
                + $"{Inside(binary.Right, Strength(binary) + (binary.Operator == BinaryOperator.Subtract ? 1 : 0))}",
            SumSyntax sum => $"\\sum_{{{Symbol(sum.Variable.Name)} \\in {Symbol(sum.Group.Name)}}} {Inside(sum.Term, 5)}",
            CallSyntax { Function.Name: "sqrt" } root => $"\\sqrt{{{Row(root.Arguments[0])}}}",
            CallSyntax { Function.Name: "exp" } power => $"e^{{{Row(power.Arguments[0])}}}",
            CallSyntax { Function.Name: "abs" } size => $"\\left|{Row(size.Arguments[0])}\\right|",
            CallSyntax call => Call($"\\operatorname{{{call.Function.Name}}}", call.Arguments),
            UserCallSyntax call => Call(Symbol(call.Callee.Name), call.Arguments),
            PerSyntax per => $"{Inside(per.Inner, 5)}\\ \\text{{per "
                + $"{(per.Number is { } number ? number.ToString("G", CultureInfo.InvariantCulture) : Escape(per.Unit!.Text))}}}",
            _ => "",
        };

    private static string Call(string name, IReadOnlyList<Syntax> arguments) =>
        $"{name}\\left({string.Join(", ", arguments.Select(Row))}\\right)";

    private static string Inside(Syntax tree, int least) => Strength(tree) < least ? $"\\left({Row(tree)}\\right)" : Row(tree);

    private static int Strength(Syntax tree) => PrintStrength.Of(tree);

    private static string Sign(BinaryOperator op) =>
        op switch
        {
            BinaryOperator.Multiply => "\\,",
            BinaryOperator.LessOrEqual => "\\le",
            BinaryOperator.GreaterOrEqual => "\\ge",
            BinaryOperator.NotEqual => "\\ne",
            BinaryOperator.Equal => "=",
            BinaryOperator.And => "\\ \\text{and}\\",
            BinaryOperator.Or => "\\ \\text{or}\\",
            _ => FormulaText.Sign(op),
        };

    private static string Number(NumberSyntax number)
    {
        var text = number.Text == "pi" ? "\\pi" : Exponent(number.Text);
        if (number.Percent)
            return text + "\\%";
        return number.Unit is null ? text : $"{text}\\ \\text{{{Escape(number.Unit.Text)}}}";
    }

    private static string Exponent(string number)
    {
        var cut = number.IndexOf('e', StringComparison.OrdinalIgnoreCase);
        return cut < 0 ? number : $"{number[..cut]} \\cdot 10^{{{number[(cut + 1)..]}}}";
    }
}
