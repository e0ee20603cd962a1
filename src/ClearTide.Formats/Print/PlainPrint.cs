using System.Text.RegularExpressions;

namespace ClearTide.Formats.Print;

/// <summary>A typed line with printed signs, for places that hold plain text only: Greek letters, thin products.</summary>
public static partial class PlainPrint
{
    [GeneratedRegex(@"\p{L}[\p{L}\p{Nd}_]*")]
    private static partial Regex Word();

    [GeneratedRegex(@"\s*\*\s*")]
    private static partial Regex Product();

    /// <summary>Behind a unit a thin product would read as part of it.</summary>
    [GeneratedRegex(@"(\bper\s+[\p{L}\p{Nd}_/·^]+)\s*\*\s*")]
    private static partial Regex ProductOfUnit();

    /// <summary>A sum over members says over what by its indices.</summary>
    [GeneratedRegex(@"\bsum\(\s*[\p{L}\p{Nd}_]+\s+in\s+[\p{L}\p{Nd}_]+\s*,\s*")]
    private static partial Regex Sum();

    public static string Of(string line) =>
        Word()
            .Replace(Product().Replace(ProductOfUnit().Replace(Sum().Replace(line.Trim(), "∑("), "$1 × "), "\u2009"), match =>
                MathMl.PlainSymbol(match.Value)
            )
            .Replace("-", "−");
}
