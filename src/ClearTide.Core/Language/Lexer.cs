using System.Globalization;
using System.Text;

namespace ClearTide.Core.Language;

/// <summary>
/// Cuts a typed text into tokens. Printed signs (→ − × ÷ · ≤ ≥ ≠) are read as their typed forms, and thin or fixed spaces
/// inside digits are skipped, because Clear Tide prints both. Words are compared after NFKC, so they are normalised here.
/// </summary>
internal static class Lexer
{
    private static readonly string[] TwoCharacterMarks = ["->", "<=", ">=", "!=", "=="];

    /// <summary>The tokens of <paramref name="text"/>, the last of kind <see cref="TokenKind.End"/>.</summary>
    internal static List<Token> Read(string text)
    {
        if (text.Length > FormulaLimits.Characters)
        {
            throw new FormulaException(
                new(
                    new(FormulaLimits.Characters, text.Length - FormulaLimits.Characters),
                    $"This line has {text.Length:N0} characters; {FormulaLimits.Characters:N0} is the limit. Give parts of it names "
                        + "of their own."
                )
            );
        }
        var tokens = new List<Token>();
        var at = 0;
        while (true)
        {
            var before = at;
            while (at < text.Length && char.IsWhiteSpace(text[at]))
                at++;
            var spaced = at > before;
            if (at >= text.Length)
            {
                tokens.Add(new(TokenKind.End, "", new(text.Length, 0), 0, spaced));
                return tokens;
            }
            if (tokens.Count >= FormulaLimits.Tokens)
            {
                throw new FormulaException(
                    new(
                        new(at, text.Length - at),
                        $"This line has more than {FormulaLimits.Tokens:N0} terms and signs. Give parts of it names of their own."
                    )
                );
            }
            tokens.Add(ReadOne(text, ref at, spaced));
        }
    }

    private static Token ReadOne(string text, ref int at, bool spaced)
    {
        var start = at;
        var c = text[at];
        if (char.IsAsciiDigit(c) || (c == '.' && at + 1 < text.Length && char.IsAsciiDigit(text[at + 1])))
        {
            return ReadNumber(text, ref at, spaced);
        }
        // A sign of print may take two characters: half of one is no letter.
        _ = Rune.TryGetRuneAt(text, at, out var sign);
        if (Rune.IsLetter(sign) || c == '_')
        {
            while (at < text.Length && Rune.TryGetRuneAt(text, at, out var next) && (IsWordPart(next) || JoinsWords(text, at)))
                at += next.Utf16SequenceLength;
            var span = new TextSpan(start, at - start);
            return new(TokenKind.Word, Symbols.Normalize(text.Substring(start, span.Length)), span, 0, spaced);
        }
        foreach (var mark in TwoCharacterMarks)
        {
            if (string.CompareOrdinal(text, at, mark, 0, 2) == 0)
            {
                at += 2;
                return new(TokenKind.Mark, mark, new(start, 2), 0, spaced);
            }
        }
        var read = c switch
        {
            '→' => "->",
            '−' => "-",
            '×' or '·' or '⋅' => "*",
            '÷' or '∕' => "/",
            '≤' => "<=",
            '≥' => ">=",
            '≠' => "!=",
            '+' or '-' or '*' or '/' or '^' or '(' or ')' or ',' or ':' or ';' or '=' or '<' or '>' or '%' or '[' or ']' => c.ToString(),
            _ => throw new FormulaException(
                new(
                    new(start, Math.Max(1, sign.Utf16SequenceLength)),
                    $"The sign “{(sign.Value > 0 ? sign : Rune.ReplacementChar)}” has no meaning here. Take it out, or write it in words."
                )
            ),
        };
        at++;
        return new(TokenKind.Mark, read, new(start, 1), 0, spaced);
    }

    private static bool IsWordPart(Rune sign) =>
        Rune.IsLetterOrDigit(sign)
        || sign.Value == '_'
        || Rune.GetUnicodeCategory(sign) is UnicodeCategory.NonSpacingMark or UnicodeCategory.SpacingCombiningMark;

    /// <summary>Whether a point stands between the name of a module and that of a part of it.</summary>
    private static bool JoinsWords(string text, int at) =>
        text[at] == '.' && Rune.TryGetRuneAt(text, at + 1 < text.Length ? at + 1 : at, out var next) && Rune.IsLetter(next);

    private static bool IsDigitSpace(char c) => c is '\u2009' or '\u202f' or '\u00a0';

    private static Token ReadNumber(string text, ref int at, bool spaced)
    {
        var start = at;
        var digits = new StringBuilder();
        void Digits(ref int position)
        {
            while (position < text.Length)
            {
                if (char.IsAsciiDigit(text[position]))
                    digits.Append(text[position++]);
                else if (IsDigitSpace(text[position]) && position + 1 < text.Length && char.IsAsciiDigit(text[position + 1]))
                    position++;
                else
                    break;
            }
        }
        Digits(ref at);
        if (at < text.Length && text[at] == '.')
        {
            digits.Append('.');
            at++;
            Digits(ref at);
        }
        if (at < text.Length && text[at] is 'e' or 'E')
        {
            var exponent = at + 1;
            if (exponent < text.Length && text[exponent] is '+' or '-' or '−')
                exponent++;
            if (exponent < text.Length && char.IsAsciiDigit(text[exponent]))
            {
                digits.Append('e').Append(text[at + 1] is '-' or '−' ? "-" : "");
                at = exponent;
                Digits(ref at);
            }
        }
        var span = new TextSpan(start, at - start);
        var value = double.Parse(digits.ToString(), NumberStyles.Float, CultureInfo.InvariantCulture);
        if (!double.IsFinite(value))
        {
            throw new FormulaException(
                new(span, "This number is too large to compute with. Use another unit, so that it becomes smaller.")
            );
        }
        return new(TokenKind.Number, digits.ToString(), span, value, spaced);
    }
}
