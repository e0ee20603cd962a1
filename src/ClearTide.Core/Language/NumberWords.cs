using System.Globalization;

namespace ClearTide.Core.Language;

/// <summary>Numbers as sentences say them: five digits at most, and a power of ten written as one.</summary>
public static class NumberWords
{
    private const string Raised = "⁰¹²³⁴⁵⁶⁷⁸⁹";

    /// <summary>A number to a given number of digits, with a power of ten where it is very large or small.</summary>
    /// <param name="value">The number.</param>
    /// <param name="digits">Significant digits, 1 to 17.</param>
    public static string Of(double value, int digits = 5)
    {
        if (double.IsNaN(value))
            return "not a number";
        if (double.IsInfinity(value))
            return value > 0 ? "infinity" : "minus infinity";
        var size = Math.Abs(value);
        if (value == 0 || size is >= 1e-4 and < 1e15)
        {
            // Whole digits before the point are all said: 1234567, not 1.2346 million.
            var before = size < 1 ? 0 : (int)Math.Floor(Math.Log10(size)) + 1;
            var rounded =
                before >= digits
                    ? Math.Round(value)
                    : double.Parse(value.ToString($"G{digits}", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
            return rounded.ToString("0.##############", CultureInfo.InvariantCulture);
        }
        return Powered(value, digits);
    }

    /// <summary>A number that is only roughly so: two digits and zeros, 160 000 000.</summary>
    /// <param name="value">The number.</param>
    public static string About(double value) =>
        double.IsFinite(value)
            ? Grouped(double.Parse(value.ToString("G2", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture), 2)
            : Of(value);

    /// <summary>The same for sentences on results, with thin spaces between thousands: 18 400.</summary>
    /// <param name="value">The number.</param>
    /// <param name="digits">Significant digits, 1 to 17.</param>
    public static string Grouped(double value, int digits = 4)
    {
        var text = Of(value, digits);
        var (start, end) = (text.StartsWith('-') ? 1 : 0, text.IndexOf('.', StringComparison.Ordinal));
        if (end < 0)
            end = text.Length;
        if (end - start < 4 || text.Any(char.IsLetter) || text.Contains('×', StringComparison.Ordinal))
            return text;
        for (var at = end - 3; at > start; at -= 3)
            text = text.Insert(at, "\u2009");
        return text;
    }

    private static string Powered(double value, int digits)
    {
        var text = value.ToString($"0.{new string('#', digits - 1)}E+0", CultureInfo.InvariantCulture);
        var cut = text.IndexOf('E', StringComparison.Ordinal);
        var power = string.Concat(text[(cut + 1)..].Where(sign => sign != '+').Select(sign => sign == '-' ? '⁻' : Raised[sign - '0']));
        return $"{text[..cut]} × 10{power}";
    }
}
