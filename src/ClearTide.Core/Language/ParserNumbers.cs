namespace ClearTide.Core.Language;

/// <summary>Numbers with their percents and units, and intervals of time.</summary>
internal sealed partial class Parser
{
    /// <summary>An interval of time behind “every”: a line, or a unit of time alone for one of it.</summary>
    public Syntax Interval()
    {
        var word = Here;
        if (word.Kind != TokenKind.Word || TimeUnit.Find(word.Text) is null || Ahead().Is("("))
            return Line();
        Take();
        return new NumberSyntax(word.Span, 1, "1", false, new(word.Text, [new(word.Text, 1, word.Span)]));
    }

    /// <summary>A number with its sign, its unit or its percent, and nothing else.</summary>
    /// <param name="notUnits">Words that may follow the number and are not its unit.</param>
    public Syntax SignedNumber(IReadOnlySet<string>? notUnits = null)
    {
        var sign = Here;
        var negative = TryTake("-");
        if (Here.Kind != TokenKind.Number)
            throw Wrong(
                Here.Span,
                Here.Kind == TokenKind.End ? "A number is missing at the end." : $"A number stands here, not “{Source(Here.Span)}”."
            );
        var bare = Ahead().Kind == TokenKind.Word && notUnits?.Contains(Ahead().Text) == true;
        var number = bare ? Bare(Take()) : Number();
        return negative ? new UnarySyntax(TextSpan.Between(sign.Span, number.Span), UnaryOperator.Negate, number) : number;
    }

    private static NumberSyntax Bare(Token number) => new(number.Span, number.Value, number.Text, false, null);

    private NumberSyntax Number()
    {
        var number = Take();
        if (Here.Is("%"))
        {
            var percent = Take();
            return new(TextSpan.Between(number.Span, percent.Span), number.Value / 100, number.Text, true, null);
        }
        if (Here.Kind == TokenKind.Word && !Symbols.Reserved.Contains(Here.Text))
        {
            var unit = UnitHere();
            return new(new(number.Span.Start, tokens[_at - 1].Span.End - number.Span.Start), number.Value, number.Text, false, unit);
        }
        return Bare(number);
    }

    /// <summary>Reads <c>word[^INT]{/word[^INT]}</c>, all but the first without spaces. Which words are units is for the study to
    /// say.</summary>
    public UnitText UnitHere()
    {
        var words = new List<UnitWord>();
        var spelled = "";
        var sign = 1;
        while (true)
        {
            if (Here.Kind != TokenKind.Word || Symbols.Reserved.Contains(Here.Text))
                throw Wrong(Here.Span, "A unit stands here, as in days or mg/L.");
            var word = Take();
            var power = sign;
            spelled += word.Text;
            if (Here.Is("^") && !Here.SpaceBefore && Ahead().Kind == TokenKind.Number)
            {
                Take();
                var exponent = Take();
                if (exponent.Value != Math.Floor(exponent.Value) || exponent.Value is < 1 or > 9)
                {
                    throw Wrong(exponent.Span, "The power of a unit is a whole number from 1 to 9.");
                }
                power *= (int)exponent.Value;
                spelled += "^" + exponent.Text;
            }
            words.Add(new(word.Text, power, word.Span));
            if (words.Count > 8)
                throw Wrong(word.Span, "A unit is made of at most eight others.");
            if (
                (Here.Is("/") || Here.Is("*"))
                && !Here.SpaceBefore
                && Ahead() is { Kind: TokenKind.Word, SpaceBefore: false } next
                && !Symbols.Reserved.Contains(next.Text)
            )
            {
                sign = Here.Is("/") ? -1 : 1;
                spelled += Take().Text == "/" ? "/" : "·";
                continue;
            }
            return new(spelled, words);
        }
    }
}
