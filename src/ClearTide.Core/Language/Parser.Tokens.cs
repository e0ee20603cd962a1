namespace ClearTide.Core.Language;

internal sealed partial class Parser
{
    public Token Here => tokens[_at];

    public Token Ahead(int count = 1) => tokens[Math.Min(_at + count, tokens.Count - 1)];

    public Token Take() => tokens[_at < tokens.Count - 1 ? _at++ : _at];

    public string Text => text;

    /// <summary>Where the last token taken ends.</summary>
    public int LastEnd => _at == 0 ? 0 : tokens[_at - 1].Span.End;

    public bool TryTakeWord(string word)
    {
        if (!Here.IsWord(word))
            return false;
        Take();
        return true;
    }

    /// <summary>Reads one part of the grammar and gives it with its text as typed.</summary>
    public (T Tree, string Text) Typed<T>(Func<T> read)
    {
        var start = Here.Kind == TokenKind.End ? text.Length : Here.Span.Start;
        var tree = read();
        return (tree, text[start..Math.Max(start, LastEnd)]);
    }

    public bool TryTake(string mark)
    {
        if (!Here.Is(mark))
            return false;
        Take();
        return true;
    }

    public void Expect(string mark, string what)
    {
        if (TryTake(mark))
            return;
        throw Wrong(
            Here.Span,
            Here.Kind == TokenKind.End ? $"The line ends too early: {what}." : $"“{Source(Here.Span)}” is not expected here: {what}."
        );
    }

    /// <summary>Takes a word that has to stand here.</summary>
    /// <param name="word">The word that has to stand here.</param>
    /// <param name="what">What is missing, where it does not.</param>
    public void ExpectWord(string word, string what)
    {
        if (!TryTakeWord(word))
            Expect(word, what);
    }

    /// <summary>Reads a whole text by one rule of the grammar; the first problem where it cannot be read.</summary>
    public static (T? Read, FormulaProblem? Problem) Whole<T>(string text, Func<Parser, T> rule)
        where T : class
    {
        try
        {
            var parser = new Parser(text, Lexer.Read(text));
            var read = rule(parser);
            parser.ExpectEnd();
            return (read, null);
        }
        catch (FormulaException wrong)
        {
            return (null, wrong.Problem);
        }
    }

    public string Source(TextSpan span) => text.Substring(span.Start, span.Length);

    public FormulaException Wrong(TextSpan span, string message, params TextFix[] fixes) => new(new(span, message, fixes));

    public TextFix Replace(TextSpan span, string with, string? label = null) =>
        new(label ?? $"Write “{with}”", text[..span.Start] + with + text[span.End..]);

    public void ExpectEnd()
    {
        if (Here.Kind == TokenKind.End)
            return;
        throw Unexpected();
    }
}
