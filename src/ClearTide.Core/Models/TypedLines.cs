using ClearTide.Core.Formulas;

namespace ClearTide.Core.Models;

/// <summary>An initial amount as typed: a line, or what is left of a total.</summary>
public sealed record StartLine(bool TheRest, Formula Formula)
{
    private const string RestWords = "the rest of ";

    public static StartLine Read(string text)
    {
        var trimmed = text.TrimStart();
        if (!trimmed.StartsWith(RestWords, StringComparison.Ordinal)) return new(false, Formula.Read(text));
        // Blanks keep the positions of the total's tree those of the text as typed.
        var offset = text.Length - trimmed.Length + RestWords.Length;
        return new(true, Formula.Read(new string(' ', offset) + text[offset..]));
    }
}

/// <summary>A flow's rate as typed: the word that says how it is given, then the line.</summary>
public static class RateLine
{
    /// <summary>How the kind of a rate is written before its line.</summary>
    public static string Word(RateKind kind) => kind switch { RateKind.PerHead => "at", RateKind.MeanStay => "after", _ => ":" };

    /// <summary>The rate as it is typed, with its word: <c>after 3 days</c>.</summary>
    public static string Write(RateKind kind, string line) => $"{Word(kind)} {line}";

    /// <summary>Splits a typed rate; without a word before it, it stays of the kind it was.</summary>
    public static (RateKind Kind, string Line) Read(string text, RateKind otherwise)
    {
        var trimmed = text.Trim();
        foreach (var kind in (RateKind[])[RateKind.PerHead, RateKind.MeanStay, RateKind.Whole])
        {
            var word = Word(kind);
            if (!trimmed.StartsWith(word, StringComparison.Ordinal)) continue;
            if (kind != RateKind.Whole && trimmed.Length > word.Length && !char.IsWhiteSpace(trimmed[word.Length])) continue;
            return (kind, trimmed[word.Length..].Trim());
        }
        return (otherwise, trimmed);
    }
}
