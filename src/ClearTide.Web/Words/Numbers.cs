using System.Globalization;

namespace ClearTide.Web.Words;

/// <summary>Numbers as the screens print them: thin spaces between thousands, four digits where a fraction matters.</summary>
public static class Numbers
{
    private static readonly NumberFormatInfo Thin = new()
    {
        NumberGroupSeparator = "\u2009",
        NumberDecimalSeparator = ".",
        NegativeSign = "−",
    };

    public static string Say(double value)
    {
        if (double.IsNaN(value))
            return "—";
        var size = Math.Abs(value);
        if (size >= 100_000_000)
            return value.ToString("#,0,,", Thin) + " million";
        // What rounds to a thousand is one.
        if (size >= 999.95)
            return value.ToString("#,0", Thin);
        if (size >= 100)
            return value.ToString("0.#", Thin);
        if (size == 0)
            return "0";
        if (size < 1e-4)
            return value.ToString("G3", Thin);
        var digits = Math.Clamp(3 - (int)Math.Floor(Math.Log10(size)), 0, 7);
        return Math.Round(value, digits).ToString("0." + new string('#', digits), Thin);
    }

    /// <summary>A whole count.</summary>
    public static string Count(double value) => value.ToString("#,0", Thin);

    /// <summary>A difference, with its sign.</summary>
    public static string Difference(double value) => (value > 0 ? "+" : "") + Count(value);

    /// <summary>A difference of numbers that need not be whole, with its sign.</summary>
    public static string Change(double value) => (value > 0 ? "+" : "") + Say(value);

    /// <summary>For scripts: all digits, and nothing where it is no number.</summary>
    public static string Plain(double value) => double.IsFinite(value) ? value.ToString("R", CultureInfo.InvariantCulture) : "";
}
