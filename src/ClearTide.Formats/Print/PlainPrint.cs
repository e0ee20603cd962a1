using System.Text.RegularExpressions;

namespace ClearTide.Formats.Print;

/// <summary>A typed line with printed signs, for places that hold plain text only: Greek letters, thin products.</summary>
public static partial class PlainPrint
{
    [GeneratedRegex(@"\p{L}[\p{L}\p{Nd}_]*")]
    private static partial Regex Word();

    [GeneratedRegex(@"([\p{L}\p{Nd}_]*)\s*\*\s*(?=([\p{L}\p{Nd}_]*))")]
    private static partial Regex Product();

    /// <summary>Behind a unit a thin product would read as part of it.</summary>
    [GeneratedRegex(@"(\bper\s+[\p{L}\p{Nd}_/·^]+)\s*\*\s*")]
    private static partial Regex ProductOfUnit();

    /// <summary>A sum over members says over what by its indices.</summary>
    [GeneratedRegex(@"\bsum\(\s*[\p{L}\p{Nd}_]+\s+in\s+[\p{L}\p{Nd}_]+\s*,\s*")]
    private static partial Regex Sum();

    /// <param name="line">A formula as typed.</param>
    public static string Of(string line)
    {
        var symbols = Word()
            .Replace(ProductOfUnit().Replace(Sum().Replace(line.Trim(), "∑("), "$1 × "), match => MathMl.PlainSymbol(match.Value));
        return Product().Replace(symbols, match => match.Groups[1].Value + Between(match)).Replace("-", "−");
    }

    /// <summary>A thin space between letters, and one that is seen where a factor is a word: “loss adults”, not “lossadults”.</summary>
    private static char Between(Match product) => product.Groups[1].Length > 1 || product.Groups[2].Length > 1 ? '\u2004' : '\u2009';
}
