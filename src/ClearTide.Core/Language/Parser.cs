using System.Globalization;

namespace ClearTide.Core.Language;

/// <summary>Reads lines: ordinary mathematics, lowest <c>per</c>, then or, and, not, comparison, sum, product, unary minus,
/// power.</summary>
internal sealed partial class Parser(string text, List<Token> tokens)
{
    private int _at;
    private int _depth;

    /// <summary>
    /// A line: an expression, then any number of <c>per NUMBER</c> or <c>per UNIT</c>. What is multiplied or divided behind them goes
    /// on with all
    /// that stands before, as people say it: <c>15% per year * A</c> is 15% a year, times A.
    /// </summary>
    public Syntax Line()
    {
        var inner = Expression();
        while (Here.IsWord("per") || inner is PerSyntax && (Here.Is("*") || Here.Is("/")))
        {
            if (!Here.IsWord("per"))
            {
                inner = Sum(Product(inner));
                continue;
            }
            var per = Take();
            // A sum that begins before its first term stands in parentheses.
            if (
                inner is BinarySyntax { Operator: BinaryOperator.Add or BinaryOperator.Subtract } sum
                && sum.Span.Start == sum.Left.Span.Start
            )
            {
                var rest = text[per.Span.Start..LineTail()];
                throw Wrong(
                    per.Span,
                    "It is not clear what “per” divides: the whole sum, or its last term. Put parentheses.",
                    new TextFix("The whole sum", $"{text[..sum.Span.Start]}({Source(sum.Span)}) {rest}{text[LineTail()..]}"),
                    new TextFix("The last term", $"{text[..sum.Right.Span.Start]}({Source(sum.Right.Span)} {rest}){text[LineTail()..]}")
                );
            }
            if (Here.Kind == TokenKind.Number)
            {
                var number = Take();
                inner = new PerSyntax(TextSpan.Between(inner.Span, number.Span), inner, number.Value, null);
            }
            else if (Here.Kind == TokenKind.Word && !Symbols.Reserved.Contains(Here.Text))
            {
                var unit = UnitHere();
                inner = new PerSyntax(new(inner.Span.Start, tokens[_at - 1].Span.End - inner.Span.Start), inner, null, unit);
            }
            else
            {
                throw Wrong(Here.Span, "After “per” comes a unit or a number: a unit of time, a unit of the study, or 1000.");
            }
        }
        return inner;
    }

    /// <summary>Where the run of <c>per</c> at the reading position ends.</summary>
    private int LineTail()
    {
        var k = _at;
        while (tokens[k].Kind is TokenKind.Number or TokenKind.Word && !tokens[k].IsWord("in"))
            k++;
        return k == 0 ? text.Length : tokens[k - 1].Span.End;
    }

    public Syntax Expression()
    {
        if (++_depth > FormulaLimits.Depth)
        {
            throw Wrong(Here.Span, $"Parentheses are nested more than {FormulaLimits.Depth} deep. Give the inner part a name of its own.");
        }
        var result = Or();
        _depth--;
        return result;
    }

    private Syntax Or()
    {
        var left = And();
        while (Here.IsWord("or"))
        {
            Take();
            left = Join(BinaryOperator.Or, left, And());
        }
        return left;
    }

    private Syntax And()
    {
        var left = Not();
        while (Here.IsWord("and"))
        {
            Take();
            left = Join(BinaryOperator.And, left, Not());
        }
        return left;
    }

    private Syntax Not()
    {
        var nots = new Stack<Token>();
        while (Here.IsWord("not"))
            nots.Push(Take());
        var operand = Comparison();
        foreach (var not in nots)
            operand = new UnarySyntax(TextSpan.Between(not.Span, operand.Span), UnaryOperator.Not, operand);
        return operand;
    }

    private static BinaryOperator? ComparisonOperator(Token token) =>
        token.Kind != TokenKind.Mark
            ? null
            : token.Text switch
            {
                "<" => BinaryOperator.Less,
                "<=" => BinaryOperator.LessOrEqual,
                ">" => BinaryOperator.Greater,
                ">=" => BinaryOperator.GreaterOrEqual,
                "==" or "=" => BinaryOperator.Equal,
                "!=" => BinaryOperator.NotEqual,
                _ => null,
            };

    private Syntax Comparison()
    {
        var left = Sum();
        if (ComparisonOperator(Here) is not { } comparison)
            return left;
        Take();
        var joined = Join(comparison, left, Sum());
        if (ComparisonOperator(Here) is not null)
        {
            throw Wrong(Here.Span, "Two comparisons in a row say nothing definite. Join them with “and”: a < b and b < c.");
        }
        return joined;
    }

    private Syntax Sum() => Sum(Product());

    private Syntax Sum(Syntax left)
    {
        while (Here.Is("+") || Here.Is("-"))
        {
            var op = Take().Text == "+" ? BinaryOperator.Add : BinaryOperator.Subtract;
            left = Join(op, left, Product());
        }
        return left;
    }

    private Syntax Product() => Product(Signed());

    private Syntax Product(Syntax left)
    {
        while (Here.Is("*") || Here.Is("/"))
        {
            var op = Take().Text == "*" ? BinaryOperator.Multiply : BinaryOperator.Divide;
            var right = Signed();
            if (
                op == BinaryOperator.Divide
                && right is NumberSyntax { Unit: { } unit } divisor
                && left is NumberSyntax { Unit: null } dividend
                && text[divisor.Span.Start] != '('
            )
            {
                var span = TextSpan.Between(dividend.Span, divisor.Span);
                var quotient = (dividend.Value / divisor.Value).ToString("0.######", CultureInfo.InvariantCulture);
                TextFix[] rate =
                    unit.Words.Count == 1 ? [Replace(span, $"{Source(dividend.Span)}/{divisor.Text} per {Singular(unit.Text)}")] : [];
                throw Wrong(
                    span,
                    $"“{Source(span)}” can be read as {quotient} {unit.Text} or as {Source(dividend.Span)}/{divisor.Text} per "
                        + $"{Singular(unit.Text)}. Say which.",
                    [Replace(span, $"{quotient} {unit.Text}"), .. rate]
                );
            }
            left = Join(op, left, right);
        }
        return left;
    }

    private Syntax Signed()
    {
        var signs = new Stack<Token>();
        while (Here.Is("-") || Here.Is("+"))
        {
            var sign = Take();
            if (sign.Text == "-")
                signs.Push(sign);
        }
        var operand = Power();
        foreach (var sign in signs)
            operand = new UnarySyntax(TextSpan.Between(sign.Span, operand.Span), UnaryOperator.Negate, operand);
        return operand;
    }

    private Syntax Power()
    {
        var @base = Atom();
        if (!Here.Is("^"))
            return @base;
        Take();
        if (++_depth > FormulaLimits.Depth)
            throw Wrong(Here.Span, "Too many powers of powers. Give the inner part a name of its own.");
        var exponent = Signed();
        _depth--;
        return Join(BinaryOperator.Power, @base, exponent);
    }

    private static string Singular(string word) => TimeUnit.Find(word)?.Singular ?? word;

    private static BinarySyntax Join(BinaryOperator op, Syntax left, Syntax right) =>
        new(TextSpan.Between(left.Span, right.Span), op, left, right);
}
