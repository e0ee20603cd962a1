using System.Text.RegularExpressions;

namespace ClearTide.Formats.Print;

/// <summary>A typed line with printed signs, for places that hold plain text only: Greek letters, thin products.</summary>
public static partial class PlainPrint
{
    [GeneratedRegex(@"\p{L}[\p{L}\p{Nd}_]*")]
    private static partial Regex Word();

    [GeneratedRegex(@"\s*\*\s*")]
    private static partial Regex Product();

    public static string Of(string line) =>
        Word().Replace(Product().Replace(line.Trim(), "\u2009"), match => MathMl.PlainSymbol(match.Value)).Replace("-", "−");
}
