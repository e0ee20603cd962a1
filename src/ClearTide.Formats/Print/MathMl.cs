using System.Globalization;
using System.Net;
using System.Text;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Print;

/// <summary>A formula in print: presentation MathML (MathML Core), everything escaped.</summary>
public static class MathMl
{
    public static string Of(Syntax tree) => $"<math>{Row(tree)}</math>";

    /// <summary>The formula without the element around it, to be put into a larger one.</summary>
    public static string Inner(Syntax tree) => Row(tree);

    /// <summary>A symbol as print shows it: Greek names become letters, what follows an underscore goes below.</summary>
    public static string Symbol(string symbol)
    {
        if (MemberName.IndicesOf(symbol) is { Count: > 0 } indices)
            return $"<msub><mrow>{Symbol(MemberName.BaseOf(symbol))}</mrow>"
                + $"<mrow>{string.Join("<mo>,</mo>", indices.Select(Symbol))}</mrow></msub>";
        if (ModuleName.Of(symbol) is { Length: > 0 } module)
            return $"<mi>{WebUtility.HtmlEncode(module)}.</mi>{Symbol(ModuleName.Inner(symbol))}";
        var cut = symbol.IndexOf('_');
        var head = cut > 0 ? symbol[..cut] : symbol;
        var printed = $"<mi>{WebUtility.HtmlEncode(Symbols.Greek.GetValueOrDefault(head, head))}</mi>";
        return cut > 0 && cut < symbol.Length - 1
            ? $"<msub>{printed}<mi>{WebUtility.HtmlEncode(symbol[(cut + 1)..])}</mi></msub>"
            : printed;
    }

    /// <summary>A symbol as plain text with Greek names as letters.</summary>
    public static string PlainSymbol(string symbol) =>
        MemberName.BaseOf(symbol) is var name && name.Length < symbol.Length ? PlainSymbol(name) + MemberName.Print(symbol[name.Length..])
        : ModuleName.Of(symbol) is { Length: > 0 } module ? $"{module}.{PlainSymbol(ModuleName.Inner(symbol))}"
        : Symbols.Greek.GetValueOrDefault(symbol, symbol);

    private static string Row(Syntax tree) =>
        tree switch
        {
            NumberSyntax number => Number(number),
            NameSyntax name => Symbol(name.Name),
            UnarySyntax { Operator: UnaryOperator.Negate } unary => $"<mrow><mo>−</mo>{Inside(unary.Operand, 6)}</mrow>",
            UnarySyntax unary => $"<mrow><mtext>not\u00a0</mtext>{Inside(unary.Operand, 3)}</mrow>",
            BinarySyntax { Operator: BinaryOperator.Divide } quotient => $"<mfrac>{Boxed(quotient.Left)}{Boxed(quotient.Right)}</mfrac>",
            BinarySyntax { Operator: BinaryOperator.Power } power => $"<msup>{Boxed(power.Left, 8)}{Boxed(power.Right)}</msup>",
            BinarySyntax binary =>
                $"<mrow>{Inside(binary.Left, Strength(binary))}{Sign(binary.Operator)}{Inside(binary.Right, Strength(binary) + (binary.Operator == BinaryOperator.Subtract ? 1 : 0))}</mrow>",
            SumSyntax sum => $"<mrow><munder><mo>∑</mo><mrow>{Symbol(sum.Variable.Name)}<mo>∈</mo>{Symbol(sum.Group.Name)}</mrow></munder>"
                + $"{Inside(sum.Term, 5)}</mrow>",
            CallSyntax { Function.Name: "sqrt" } root => $"<msqrt>{Row(root.Arguments[0])}</msqrt>",
            CallSyntax { Function.Name: "exp" } power => $"<msup><mi>e</mi><mrow>{Row(power.Arguments[0])}</mrow></msup>",
            CallSyntax { Function.Name: "abs" } size => $"<mrow><mo>|</mo>{Row(size.Arguments[0])}<mo>|</mo></mrow>",
            CallSyntax call => Call($"<mi>{WebUtility.HtmlEncode(call.Function.Name)}</mi>", call.Arguments),
            UserCallSyntax call => Call(Symbol(call.Callee.Name), call.Arguments),
            PerSyntax per => $"<mrow>{Inside(per.Inner, 5)}<mtext>\u00a0per "
                + $"{(per.Number is { } number ? number.ToString("G", CultureInfo.InvariantCulture) : WebUtility.HtmlEncode(per.Unit!.Text))}</mtext></mrow>",
            _ => "",
        };

    private static string Call(string name, IReadOnlyList<Syntax> arguments) =>
        $"<mrow>{name}<mo>(</mo>{string.Join("<mo>,</mo>", arguments.Select(Row))}<mo>)</mo></mrow>";

    private static string Boxed(Syntax tree, int least = 0) => $"<mrow>{Inside(tree, least)}</mrow>";

    private static string Inside(Syntax tree, int least) =>
        Strength(tree) < least ? $"<mrow><mo>(</mo>{Row(tree)}<mo>)</mo></mrow>" : Row(tree);

    private static int Strength(Syntax tree) => PrintStrength.Of(tree);

    private static string Sign(BinaryOperator op) =>
        op switch
        {
            BinaryOperator.Multiply => "<mo lspace=\"0.1em\" rspace=\"0.1em\">\u2062</mo>",
            BinaryOperator.Subtract => "<mo>−</mo>",
            BinaryOperator.Add => "<mo>+</mo>",
            BinaryOperator.Less => "<mo>&lt;</mo>",
            BinaryOperator.LessOrEqual => "<mo>≤</mo>",
            BinaryOperator.Greater => "<mo>&gt;</mo>",
            BinaryOperator.GreaterOrEqual => "<mo>≥</mo>",
            BinaryOperator.Equal => "<mo>=</mo>",
            BinaryOperator.NotEqual => "<mo>≠</mo>",
            BinaryOperator.And => "<mtext>\u00a0and\u00a0</mtext>",
            _ => "<mtext>\u00a0or\u00a0</mtext>",
        };

    private static string Number(NumberSyntax number)
    {
        var text = number.Text == "pi" ? "π" : number.Text;
        var printed = text == "π" ? "<mi>π</mi>" : $"<mn>{WebUtility.HtmlEncode(text)}</mn>";
        if (number.Percent)
            return $"<mrow>{printed}<mo>%</mo></mrow>";
        return number.Unit is null ? printed : $"<mrow>{printed}<mtext>\u00a0{WebUtility.HtmlEncode(number.Unit.Text)}</mtext></mrow>";
    }
}
