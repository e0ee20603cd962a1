namespace ClearTide.Core.Language;

/// <summary>Numbers and units of time as sentences say them.</summary>
public static class TimeWords
{
    /// <summary>What comes once in a unit of time: “a day”, “an hour”.</summary>
    /// <param name="unit">The unit.</param>
    public static string Each(this TimeUnit unit) => Each(unit.Singular);

    /// <summary>The same for a step, or any other word that time is counted in.</summary>
    /// <param name="word">The word for one.</param>
    public static string Each(string word) => $"{(word == TimeUnit.Hour.Singular ? "an" : "a")} {word}";

    /// <summary>A time on the axis: “on day 60”, “at hour 61.3”.</summary>
    /// <param name="unit">The unit of the axis.</param>
    /// <param name="time">In that unit.</param>
    /// <param name="digits">Significant digits, 1 to 17.</param>
    public static string On(this TimeUnit unit, double time, int digits = 5) =>
        $"{(unit == TimeUnit.Day ? "on" : "at")} {unit.Singular} {NumberWords.Of(time, digits)}";

    /// <summary>A length of time: “1 year”, “2.5 years”.</summary>
    /// <param name="unit">The unit of time.</param>
    /// <param name="time">In that unit.</param>
    /// <param name="digits">Significant digits, 1 to 17.</param>
    public static string Length(this TimeUnit unit, double time, int digits = 5) =>
        $"{NumberWords.Of(time, digits)} {(time == 1 ? unit.Singular : unit.Plural)}";
}
