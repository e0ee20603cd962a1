using System.Globalization;
using System.Text.RegularExpressions;

namespace ClearTide.Core.Analysis;

/// <summary>
/// Numbers typed one after the other, separated by commas, semicolons or blanks. A comma between two digits may be a decimal one: where
/// semicolons or
/// blanks separate it is read as that, where nothing tells it is asked about, and never does it split one number in two unsaid.
/// </summary>
public static partial class NumberList
{
    [GeneratedRegex(@"(?<=\d),(?=\d)")]
    private static partial Regex CommaInside();

    /// <summary>The text with decimal points for decimal commas; a sentence where commas may mean either.</summary>
    /// <param name="text">The text as typed.</param>
    public static (string? Text, string? Problem) Plain(string text)
    {
        // Who writes a decimal point separates by commas.
        if (text.Contains('.', StringComparison.Ordinal) || !CommaInside().IsMatch(text))
            return (text, null);
        var inside = CommaInside().Count(text);
        var decimals =
            text.Contains(';', StringComparison.Ordinal)
            || (text.Count(sign => sign == ',') == inside && text.Trim().Any(char.IsWhiteSpace));
        if (decimals)
            return (CommaInside().Replace(text, "."), null);
        var first = CommaInside().Match(text).Index;
        var around = text[WordStart(text, first)..WordEnd(text, first)];
        return (
            null,
            $"“{around}” may be one number or several. Write decimals with a point, as in 0.2, 0.3, or separate the values by semicolons."
        );
    }

    /// <summary>The numbers of a list; a sentence where they cannot be read.</summary>
    /// <param name="text">The text as typed.</param>
    public static (double[]? Values, string? Problem) Read(string text)
    {
        var (plain, problem) = Plain(text);
        if (plain is null)
            return (null, problem);
        var words = plain.Split([',', ';', ' ', '\n', '\t', '\r'], StringSplitOptions.RemoveEmptyEntries);
        var values = new double[words.Length];
        for (var k = 0; k < words.Length; k++)
        {
            if (!double.TryParse(words[k], NumberStyles.Float, CultureInfo.InvariantCulture, out values[k]) || !double.IsFinite(values[k]))
            {
                return (null, $"“{words[k]}” is no number. Type values separated by commas, as in 0.2, 0.3, 0.5.");
            }
        }
        return (values, null);
    }

    private static int WordStart(string text, int at) => text.LastIndexOfAny([' ', ';', '\n', '\t'], at) + 1;

    private static int WordEnd(string text, int at) => text.IndexOfAny([' ', ';', '\n', '\t'], at) is var end and >= 0 ? end : text.Length;
}
