using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Editing;

/// <summary>What somebody's new studies begin with.</summary>
/// <param name="TimeUnit">Name of the unit of time.</param>
/// <param name="End">Length of the span, in that unit.</param>
/// <param name="Units">One a line: <c>villager</c>, <c>tablet = 200 mg</c>.</param>
public sealed record StudyDefaults(string TimeUnit, double End, ImmutableArray<UnitRule> Units)
{
    /// <summary>What a new study begins with until somebody sets it: 150 days.</summary>
    public static readonly StudyDefaults Plain = new(ClearTide.Core.Language.TimeUnit.Day.Singular, 150, []);

    /// <summary>An empty study with these settings.</summary>
    public StudyDocument Begin() =>
        new()
        {
            Title = "New study",
            TimeUnit = ClearTide.Core.Language.TimeUnit.Find(TimeUnit) ?? ClearTide.Core.Language.TimeUnit.Day,
            End = End,
            Units = Units,
        };

    /// <summary>A study from a pattern, with one's own units beside those it brings.</summary>
    /// <param name="pattern">The study to begin from.</param>
    public StudyDocument Begin(StudyDocument pattern) =>
        pattern with
        {
            Units = [.. pattern.Units, .. Units.Where(rule => pattern.Units.All(known => known.Word != rule.Word))],
        };

    /// <summary>Reads settings as typed; a sentence where something cannot be.</summary>
    /// <param name="timeUnit">The word of a unit of time.</param>
    /// <param name="end">The length of the span, a number.</param>
    /// <param name="units">Units of one's own, one a line.</param>
    public static (StudyDefaults? Settings, string? Problem) Read(string timeUnit, string end, string units)
    {
        if (ClearTide.Core.Language.TimeUnit.Find(timeUnit) is not { } time)
            return (null, "Choose one of the units of time.");
        if (TypedNumber.Read(end) is not { } span || !(span > 0) || span > 1e9)
            return (null, "A span ends at a number above zero, as in 150.");
        var study = new StudyDocument { Title = "settings", TimeUnit = time };
        foreach (var line in units.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            var cut = line.IndexOf('=', StringComparison.Ordinal);
            var (word, meaning) = cut < 0 ? (line, "") : (line[..cut].Trim(), line[(cut + 1)..].Trim());
            var result = new SetUnit(word, meaning).Apply(study);
            if (result.Document is null)
                return (null, $"“{line}”: {result.Refusal}");
            study = result.Document;
        }
        return (new(time.Singular, span, study.Units), null);
    }
}
