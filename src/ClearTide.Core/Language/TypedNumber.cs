using System.Globalization;

namespace ClearTide.Core.Language;

/// <summary>Numbers in fields, both ways: as they are typed, and as a field shows them again. Always with a decimal point.</summary>
public static class TypedNumber
{
    /// <summary>Digits that a field shows of a number that nobody typed.</summary>
    private const int Shown = 6;

    /// <summary>A number as typed, or null for what is none; what is too large to be a number is none.</summary>
    /// <param name="text">The text as typed.</param>
    public static double? Read(string? text) =>
        double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && double.IsFinite(value) ? value : null;

    /// <summary>A whole number from zero as typed, in digits alone; null for what is none.</summary>
    /// <param name="text">The text as typed.</param>
    public static int? ReadWhole(string? text) =>
        int.TryParse(text?.Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out var value) ? value : null;

    /// <summary>The shortest digits that are read as the same number again.</summary>
    /// <param name="value">The number.</param>
    public static string Exact(double value) => value.ToString("R", CultureInfo.InvariantCulture);

    /// <summary>A number that nobody typed, in as many digits as a person would.</summary>
    /// <param name="value">The number.</param>
    /// <param name="digits">Significant digits, 1 to 17.</param>
    public static string Short(double value, int digits = Shown) =>
        value.ToString("G" + digits.ToString(CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
}
