namespace ClearTide.Core.Language;

/// <summary>
/// The built-in units of time. A month is 30.4375 days and a year 365.25 days: a twelfth of the Julian year and the Julian year
/// (IAU Style Manual, 1989, section 5.15), so that 12 months are a year to the bit.
/// </summary>
/// <param name="Singular">The word for one.</param>
/// <param name="Plural">The word for several.</param>
/// <param name="Seconds">How long one is.</param>
public sealed record TimeUnit(string Singular, string Plural, double Seconds)
{
    /// <summary>The second.</summary>
    public static readonly TimeUnit Second = new("second", "seconds", 1);

    /// <summary>60 seconds.</summary>
    internal static readonly TimeUnit Minute = new("minute", "minutes", 60);

    /// <summary>60 minutes.</summary>
    public static readonly TimeUnit Hour = new("hour", "hours", 3600);

    /// <summary>24 hours.</summary>
    public static readonly TimeUnit Day = new("day", "days", 86400);

    /// <summary>7 days.</summary>
    public static readonly TimeUnit Week = new("week", "weeks", 7 * 86400);

    /// <summary>A twelfth of a year, 30.4375 days.</summary>
    public static readonly TimeUnit Month = new("month", "months", 30.4375 * 86400);

    /// <summary>365.25 days.</summary>
    public static readonly TimeUnit Year = new("year", "years", 365.25 * 86400);

    /// <summary>All units of time, the shortest first.</summary>
    public static readonly IReadOnlyList<TimeUnit> All = [Second, Minute, Hour, Day, Week, Month, Year];

    private static readonly Dictionary<string, TimeUnit> Words = Spellings();

    private static Dictionary<string, TimeUnit> Spellings()
    {
        var words = new Dictionary<string, TimeUnit>(StringComparer.Ordinal)
        {
            ["s"] = Second,
            ["sec"] = Second,
            ["min"] = Minute,
            ["h"] = Hour,
            ["hr"] = Hour,
            ["d"] = Day,
            ["wk"] = Week,
            ["yr"] = Year,
        };
        foreach (var unit in All)
            words[unit.Singular] = words[unit.Plural] = unit;
        return words;
    }

    /// <summary>All words that name a unit of time.</summary>
    public static IEnumerable<string> Known => Words.Keys;

    /// <summary>The unit a word names, or null.</summary>
    /// <param name="word">The word, in singular or plural.</param>
    public static TimeUnit? Find(string word) => Words.GetValueOrDefault(word);

    /// <inheritdoc/>
    public override string ToString() => Singular;
}
