using System.Globalization;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Tables;
using NodaTime;

namespace ClearTide.Web.Words;

/// <summary>The choices of a table that is brought in, in words.</summary>
public static class TableWords
{
    /// <summary>Marks between cells by the names that forms send.</summary>
    public static readonly IReadOnlyDictionary<string, char> Separators = new Dictionary<string, char>
    {
        ["commas"] = ',',
        ["semicolons"] = ';',
        ["tabs"] = '\t',
        ["bars"] = '|',
    };

    public static string Of(TimeForm form, TimeUnit unit) =>
        form switch
        {
            TimeForm.Number => $"a number of {unit.Plural}",
            TimeForm.YearMonthDay => "year, month, day",
            TimeForm.DayMonthYear => "day, month, year",
            TimeForm.MonthDayYear => "month, day, year",
            TimeForm.IsoWeek => "ISO weeks, from Monday",
            TimeForm.EpidemiologicalWeek => "epidemiological weeks, from Sunday",
            TimeForm.Month => "months",
            _ => "years",
        };

    public static string Of(TimeMark mark) =>
        mark switch
        {
            TimeMark.End => "the end of its interval",
            TimeMark.Start => "the start of its interval",
            _ => "the middle of its interval",
        };

    public static string Of(IntervalRule rule) => rule == IntervalRule.Fixed ? "all of one length" : "each up to its neighbour";

    /// <summary>A date as people write it.</summary>
    public static string Of(LocalDate date) => date.ToString("d MMMM uuuu", CultureInfo.InvariantCulture);

    /// <summary>From when to when the rows count, and how long one is.</summary>
    public static string Span(MappedCounts mapped, TimeUnit unit) =>
        $"from {unit.Singular} {NumberWords.Of(mapped.Rows[0].Start)} to {NumberWords.Of(mapped.Rows[^1].End)}, "
        + $"{unit.Length(mapped.Interval)} each";

    /// <summary>What lies outside the study's span, and what to do, or null.</summary>
    public static string? Outside(MappedCounts mapped, StudyDocument document)
    {
        var (before, after) = (mapped.Rows.Count(row => row.Start < document.Start), mapped.Rows.Count(row => row.End > document.End));
        var unit = document.TimeUnit;
        string Rows(int count) => $"{count} {(count == 1 ? "row lies" : "rows lie")}";
        return before > 0
                ? $"{Rows(before)} before the model begins at {unit.Singular} {NumberWords.Of(document.Start)}. Let the span begin at "
                    + $"{NumberWords.Of(Math.Floor(mapped.Rows[0].Start))} in Build, or choose an earlier date of time zero."
            : after > 0
                ? $"{Rows(after)} behind the end of the span, {unit.Singular} {NumberWords.Of(document.End)}. Lengthen it to "
                    + $"{NumberWords.Of(Math.Ceiling(mapped.Rows[^1].End))} in Build."
            : null;
    }
}
