using System.Globalization;
using System.Text.RegularExpressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Lines;

/// <summary>An initial amount as typed: a line, what is left of a total, or where the model stays.</summary>
/// <param name="TheRest">Whether it is what is left of a total.</param>
/// <param name="Formula">The amount, the total, or where the search for the equilibrium begins.</param>
public sealed record StartLine(bool TheRest, Formula Formula)
{
    /// <summary>Whether the amount is the one at which the compartment stays.</summary>
    public bool AtEquilibrium { get; private init; }

    private const string RestWords = "the rest of ";

    private const string EquilibriumWords = "at equilibrium",
        NearWord = "near ";

    /// <summary>A line as an initial amount; its formula has a problem where it cannot be read.</summary>
    /// <param name="text">The text as typed.</param>
    public static StartLine Read(string text)
    {
        var trimmed = text.TrimStart();
        if (trimmed.StartsWith(EquilibriumWords, StringComparison.Ordinal))
            return Equilibrium(text);
        if (!trimmed.StartsWith(RestWords, StringComparison.Ordinal))
            return new(false, Formula.Read(text));
        // Blanks keep the positions of the total's tree those of the text as typed.
        var offset = text.Length - trimmed.Length + RestWords.Length;
        return new(true, Formula.Read(new string(' ', offset) + text[offset..]));
    }

    /// <summary><c>at equilibrium</c>, or <c>at equilibrium near 40</c> where there are several.</summary>
    private static StartLine Equilibrium(string text)
    {
        var begins = text.IndexOf(EquilibriumWords, StringComparison.Ordinal) + EquilibriumWords.Length;
        var rest = text[begins..].TrimStart();
        if (rest.Length == 0)
            return new(false, Formula.Read("1")) { AtEquilibrium = true };
        if (!rest.StartsWith(NearWord, StringComparison.Ordinal))
            return new(
                false,
                new(
                    text,
                    null,
                    new(
                        new(begins, text.Length - begins),
                        "After “at equilibrium” may come “near” and an amount, as in “at equilibrium near 40”."
                    )
                )
            );
        var offset = text.Length - rest.Length + NearWord.Length;
        return new(false, Formula.Read(new string(' ', offset) + text[offset..])) { AtEquilibrium = true };
    }
}

/// <summary>A flow's rate as typed: the word that says how it is given, the line, and what limits it.</summary>
/// <param name="Kind">Whole, per head, or by the mean stay.</param>
/// <param name="Line">The rate as typed.</param>
/// <param name="Stages">Null where nothing is said.</param>
/// <param name="Limited">Whether no more flows than is there.</param>
/// <param name="Noise">Empty where nothing is said.</param>
public sealed partial record RateLine(RateKind Kind, string Line, int? Stages, bool Limited, string Noise)
{
    [GeneratedRegex(@"\s*,\s*noise\s+(\d\S*)\s*$")]
    private static partial Regex NoiseShape();

    [GeneratedRegex(@"\s+in\s+(\d{1,7})\s+stages?\s*$")]
    private static partial Regex StagesShape();

    [GeneratedRegex(@"\s+limited\s*$")]
    private static partial Regex LimitedShape();

    /// <summary>How the kind of a rate is written before its line.</summary>
    /// <param name="kind">The kind of rate.</param>
    public static string Word(RateKind kind) =>
        kind switch
        {
            RateKind.PerHead => "at",
            RateKind.MeanStay => "after",
            _ => ":",
        };

    /// <summary>The rate as it is typed, with its word: <c>after 3 days</c>.</summary>
    /// <param name="kind">The kind of rate.</param>
    /// <param name="line">The rate without its word.</param>
    public static string Write(RateKind kind, string line) => $"{Word(kind)} {line}";

    /// <summary>Splits a typed rate; without a word before it, it stays of the kind it was.</summary>
    /// <param name="text">The text as typed.</param>
    /// <param name="otherwise">The kind of a rate without a word.</param>
    public static RateLine Read(string text, RateKind otherwise)
    {
        var trimmed = text.Trim();
        var noise = "";
        if (NoiseShape().Match(trimmed) is { Success: true } loud)
            (noise, trimmed) = (loud.Groups[1].Value, trimmed[..loud.Index]);
        var limited = LimitedShape().IsMatch(trimmed);
        if (limited)
            trimmed = LimitedShape().Replace(trimmed, "");
        int? stages = null;
        if (StagesShape().Match(trimmed) is { Success: true } match)
        {
            stages = int.Parse(match.Groups[1].Value, CultureInfo.InvariantCulture);
            trimmed = trimmed[..match.Index];
        }
        foreach (var kind in (RateKind[])[RateKind.PerHead, RateKind.MeanStay, RateKind.Whole])
        {
            var word = Word(kind);
            if (!trimmed.StartsWith(word, StringComparison.Ordinal))
                continue;
            if (kind != RateKind.Whole && trimmed.Length > word.Length && !char.IsWhiteSpace(trimmed[word.Length]))
                continue;
            return new(kind, trimmed[word.Length..].Trim(), stages, limited, noise);
        }
        return new(otherwise, trimmed, stages, limited, noise);
    }
}
