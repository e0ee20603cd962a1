using System.Text.RegularExpressions;

namespace ClearTide.Core.Language;

/// <summary>What may be a symbol, how symbols are compared, and which known one is nearest to a mistyped one.</summary>
public static partial class Symbols
{
    /// <summary>Characters of a symbol at most, or of each name of one in a module.</summary>
    public const int Longest = 40;

    /// <summary>Modules in modules at most.</summary>
    public const int DeepestModule = 4;

    /// <summary>Words with a meaning of their own in lines; no part may be called so.</summary>
    internal static readonly IReadOnlySet<string> Reserved = new HashSet<string>(StringComparer.Ordinal)
    {
        "at",
        "after",
        "per",
        "in",
        "stages",
        "when",
        "while",
        "every",
        "from",
        "until",
        "into",
        "for",
        "once",
        "first",
        "the",
        "rest",
        "of",
        "limited",
        "points",
        "over",
        "and",
        "or",
        "not",
        "if",
        "sum",
        "t",
        "pi",
    };

    [GeneratedRegex(@"^\p{L}[\p{L}\p{Nd}\p{Mn}\p{Mc}_]*$")]
    private static partial Regex Shape();

    /// <summary>The form in which symbols are compared and stored: Unicode NFKC.</summary>
    /// <param name="text">The text as typed.</param>
    public static string Normalize(string text) => NormalForm.Of(text);

    /// <summary>Null if <paramref name="symbol"/> may name a part, else a sentence that says what to do.</summary>
    /// <param name="symbol">The name that is wanted.</param>
    public static string? Refusal(string symbol)
    {
        if (symbol.Length == 0)
            return "A symbol needs at least one letter.";
        var names = symbol.Split('.');
        if (names.Length > DeepestModule + 1)
            return $"Modules lie in modules {DeepestModule} deep at most.";
        return names.Select(NameRefusal).FirstOrDefault(refusal => refusal is not null);
    }

    /// <summary>The same of one name, without the modules before it.</summary>
    private static string? NameRefusal(string symbol)
    {
        if (symbol.Length > Longest)
            return $"A symbol has at most {Longest} characters; put the rest into the label.";
        if (!Shape().IsMatch(symbol))
            return $"“{symbol}” cannot be a symbol: begin with a letter, then use letters, digits and underscores.";
        if (Reserved.Contains(symbol))
            return $"“{symbol}” has a meaning of its own in formulas; choose another symbol.";
        if (Functions.Find(symbol) is not null)
            return $"“{symbol}” is a function; choose another symbol.";
        return null;
    }

    /// <summary>A free symbol for a part with this label: its first letter, its initials, its first letters, or its first letter with a
    /// number; null where it holds no letter.</summary>
    /// <param name="label">The name that people read.</param>
    /// <param name="taken">Names that are not free.</param>
    public static string? Suggest(string label, IEnumerable<string> taken)
    {
        var known = taken.Select(PrintedShape).ToHashSet();
        var words = Normalize(label)
            .Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .Select(word => string.Concat(word.Where(char.IsLetterOrDigit)))
            .Where(word => word.Length > 0 && char.IsLetter(word[0]))
            .ToList();
        if (words.Count == 0)
            return null;
        var first = char.ToUpperInvariant(words[0][0]).ToString();
        var initials = string.Concat(words.Select(word => char.ToUpperInvariant(word[0])));
        var begun = new[] { 2, 3 }.Where(length => words[0].Length >= length).Select(length => first + words[0][1..length]);
        return new[] { first, initials }
            .Concat(begun)
            .Concat(Enumerable.Range(2, 9999).Select(number => $"{first}{number}"))
            .First(symbol => Refusal(symbol) is null && !known.Contains(PrintedShape(symbol)));
    }

    /// <summary>Letters that print like Latin ones, under the Latin letter; Greek names under their letter.</summary>
    private static readonly Dictionary<char, char> Lookalikes = Pairs("АВЕКМНОРСТХаеорсухіјѕ", "ABEKMHOPCTXaeopcyxijs")
        .Concat(Pairs("ΑΒΕΖΗΙΚΜΝΟΡΤΥΧο", "ABEZHIKMNOPTYXo"))
        .ToDictionary();

    private static IEnumerable<KeyValuePair<char, char>> Pairs(string others, string latin) => others.Zip(latin, KeyValuePair.Create);

    /// <summary>Greek letters by the names under which they are typed; print shows the letters.</summary>
    public static readonly IReadOnlyDictionary<string, string> Greek = new Dictionary<string, string>(StringComparer.Ordinal)
    {
        ["alpha"] = "α",
        ["beta"] = "β",
        ["gamma"] = "γ",
        ["delta"] = "δ",
        ["epsilon"] = "ε",
        ["zeta"] = "ζ",
        ["eta"] = "η",
        ["theta"] = "θ",
        ["kappa"] = "κ",
        ["lambda"] = "λ",
        ["mu"] = "μ",
        ["nu"] = "ν",
        ["xi"] = "ξ",
        ["rho"] = "ρ",
        ["sigma"] = "σ",
        ["tau"] = "τ",
        ["phi"] = "φ",
        ["chi"] = "χ",
        ["psi"] = "ψ",
        ["omega"] = "ω",
        ["Gamma"] = "Γ",
        ["Delta"] = "Δ",
        ["Theta"] = "Θ",
        ["Lambda"] = "Λ",
        ["Omega"] = "Ω",
    };

    /// <summary>What a symbol looks like in print: two symbols of one shape cannot be told apart by a reader.</summary>
    internal static string PrintedShape(string symbol)
    {
        if (ModuleName.Of(symbol) is { Length: > 0 } module)
            return $"{module}.{PrintedShape(ModuleName.Inner(symbol))}";
        var cut = symbol.IndexOf('_', StringComparison.Ordinal);
        var head = cut > 0 ? symbol[..cut] : symbol;
        var printed = Greek.GetValueOrDefault(head, head) + (cut > 0 ? symbol[cut..].TrimEnd('_') : "");
        return string.Concat(printed.Select(letter => Lookalikes.GetValueOrDefault(letter, letter)));
    }

    /// <summary>The known symbol nearest to <paramref name="mistyped"/> by edit distance, or null where none is near.</summary>
    /// <param name="mistyped">A name that nothing has.</param>
    /// <param name="known">The names that there are.</param>
    public static string? Nearest(string mistyped, IEnumerable<string> known)
    {
        string? best = null;
        var limit =
            mistyped.Length <= 2 ? 1
            : mistyped.Length <= 5 ? 2
            : 3;
        var bestDistance = limit + 1;
        foreach (var candidate in known)
        {
            // One letter shares nothing with another one: only a change of case counts as near.
            if (mistyped.Length == 1 && candidate.Length == 1 && !candidate.Equals(mistyped, StringComparison.OrdinalIgnoreCase))
                continue;
            var distance = candidate.Equals(mistyped, StringComparison.OrdinalIgnoreCase) ? 0 : EditDistance(mistyped, candidate);
            if (distance < bestDistance && distance < Math.Max(mistyped.Length, candidate.Length))
            {
                best = candidate;
                bestDistance = distance;
            }
        }
        return best;
    }

    /// <summary>Levenshtein distance with neighbouring letters swapped counted as one (optimal string alignment).</summary>
    internal static int EditDistance(string a, string b)
    {
        var d = new int[a.Length + 1, b.Length + 1];
        for (var i = 0; i <= a.Length; i++)
            d[i, 0] = i;
        for (var j = 0; j <= b.Length; j++)
            d[0, j] = j;
        for (var i = 1; i <= a.Length; i++)
        {
            for (var j = 1; j <= b.Length; j++)
            {
                var change = a[i - 1] == b[j - 1] ? 0 : 1;
                d[i, j] = Math.Min(Math.Min(d[i - 1, j] + 1, d[i, j - 1] + 1), d[i - 1, j - 1] + change);
                if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                    d[i, j] = Math.Min(d[i, j], d[i - 2, j - 2] + 1);
            }
        }
        return d[a.Length, b.Length];
    }
}
