namespace ClearTide.Core.Language;

public enum TokenKind
{
    Number,
    Word,
    Mark,
    End,
}

/// <summary>One token. <paramref name="Text"/> is normalised (printed signs become typed ones); the span points into the text as
/// typed.</summary>
/// <param name="SpaceBefore">Whether white space stands directly before the token.</param>
public readonly record struct Token(TokenKind Kind, string Text, TextSpan Span, double Value, bool SpaceBefore)
{
    public bool Is(string mark) => Kind == TokenKind.Mark && Text == mark;

    public bool IsWord(string word) => Kind == TokenKind.Word && Text == word;
}
