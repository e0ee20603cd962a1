namespace ClearTide.Core.Language;

/// <summary>What kind of thing stands at a place of a typed line.</summary>
public enum TokenKind
{
    /// <summary>A number.</summary>
    Number,

    /// <summary>A name, a unit or a word of the language.</summary>
    Word,

    /// <summary>An operator or a bracket.</summary>
    Mark,

    /// <summary>The end of the line.</summary>
    End,
}

/// <summary>One token. <paramref name="Text"/> is normalised (printed signs become typed ones); the span points into the text as
/// typed.</summary>
/// <param name="Kind">Number, word, sign or end.</param>
/// <param name="Text">In normal spelling.</param>
/// <param name="Span">Where in the text it stands.</param>
/// <param name="Value">Of a number; else zero.</param>
/// <param name="SpaceBefore">Whether white space stands directly before the token.</param>
public readonly record struct Token(TokenKind Kind, string Text, TextSpan Span, double Value, bool SpaceBefore)
{
    /// <summary>Whether it is this mark.</summary>
    /// <param name="mark">The mark.</param>
    public bool Is(string mark) => Kind == TokenKind.Mark && Text == mark;

    /// <summary>Whether it is this word.</summary>
    internal bool IsWord(string word) => Kind == TokenKind.Word && Text == word;
}
