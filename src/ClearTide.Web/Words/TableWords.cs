using System.Globalization;
using ClearTide.Core.Data;
using ClearTide.Core.Groups;
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

    /// <summary>An encoding by the scripts that it is for.</summary>
    public static string Encoding(string name) =>
        name switch
        {
            "utf-8" => "UTF-8",
            "utf-16" => "UTF-16",
            "utf-16BE" => "UTF-16, big end first",
            "windows-1252" => "western (Windows 1252)",
            "windows-1250" => "central European (Windows 1250)",
            "windows-1251" => "Cyrillic (Windows 1251)",
            "windows-1253" => "Greek (Windows 1253)",
            "windows-1254" => "Turkish (Windows 1254)",
            "iso-8859-15" => "western with € (ISO 8859-15)",
            "macintosh" => "western (Macintosh)",
            "IBM850" => "western (DOS 850)",
            "shift_jis" => "Japanese (Shift JIS)",
            _ => "Chinese (GB 18030)",
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

    /// <summary>What a column is.</summary>
    public static string Of(ColumnRole role) =>
        role switch
        {
            ColumnRole.Time => "time",
            ColumnRole.Value => "a series",
            ColumnRole.Error => "its errors",
            ColumnRole.Which => "which series",
            ColumnRole.Subject => "of whom",
            ColumnRole.Dose => "dose",
            ColumnRole.Duration => "over how long",
            ColumnRole.Covariate => "known of each",
            ColumnRole.Occasion => "which run",
            ColumnRole.OutOf => "out of",
            ColumnRole.Weight => "row weight",
            ColumnRole.OtherEnd => "interval end",
            ColumnRole.Below => "below limit",
            ColumnRole.Target => "dose into",
            _ => "left out",
        };

    /// <summary>What rows have seen, as it is chosen.</summary>
    public static string Of(ObservedAs seen) =>
        seen switch
        {
            ObservedAs.Flowed => "what flowed in the row’s interval",
            ObservedAs.Standing => "what stood at the row’s time",
            ObservedAs.Mean => "the mean over the row’s interval",
            _ => "the integral over the row’s interval",
        };

    /// <summary>What a series on the model has seen.</summary>
    public static string Sentence(Observation observation, StudyDocument document)
    {
        var share = observation.Reporting.Trim() == "1" ? "" : $", times {observation.Reporting}";
        if (observation.Seen.HasFormula())
            return observation.Seen switch
            {
                ObservedAs.Standing => $"{observation.Formula} at the row’s time{share}.",
                ObservedAs.Mean => $"the mean of {observation.Formula} over the row’s interval{share}.",
                _ => $"the integral of {observation.Formula} over the row’s interval{share}.",
            };
        var flows = observation
            .OtherFlows.Prepend(observation.FlowId)
            .Select(id => WrittenOut.Of(document).Moving.FirstOrDefault(part => part.Id == id).Name)
            .ToList();
        return flows.Any(string.IsNullOrEmpty)
            ? "a flow that is no longer in the model. Bring the table again and choose another one."
            : $"what flowed along {string.Join(" and ", flows)} in "
                + $"the row’s interval{share}{Late(observation)}{(observation.Weekdays.IsEmpty ? "" : ", each weekday with its part")}.";
    }

    private static string Late(Observation observation) =>
        observation.Delay.Length == 0 ? ""
        : observation.DelayStages == 1 ? $", late by {observation.Delay}"
        : $", late by {observation.Delay} in {observation.DelayStages} stages";

    /// <summary>What the axis of a series says.</summary>
    public static string Axis(Series series, TimeUnit unit)
    {
        var last = series.Data.Rows[^1];
        var (label, length) = (series.Observation.Label, unit.Length(last.End - last.Start));
        return series.Observation.Seen switch
        {
            ObservedAs.Standing => label,
            ObservedAs.Mean => $"{label}, mean of {length}",
            ObservedAs.Integral => $"{label}, integral over {length}",
            _ => $"{label} in {length}",
        };
    }

    /// <summary>What doses go into, as a sentence behind another; empty where there are none.</summary>
    public static string DosesInto(IReadOnlyList<Subject> subjects, Observation observation, StudyDocument document)
    {
        List<string> into =
        [
            .. subjects
                .SelectMany(subject => subject.Doses)
                .Select(dose => dose.Into ?? observation.DosesInto)
                .Distinct()
                .Select(id => document.Compartment(id)?.Symbol ?? "a compartment that is gone"),
        ];
        return into.Count == 0 ? "" : $" Doses go into {string.Join(" and ", into)}.";
    }

    /// <summary>Of whom the rows are, what was given to them and what is known of them; null where they are of nobody.</summary>
    public static string? Of(IReadOnlyList<Subject> subjects, StudyDocument document)
    {
        if (subjects.Count == 0)
            return null;
        var doses = subjects.Sum(subject => subject.Doses.Count);
        var known = subjects.SelectMany(subject => subject.Covariates.Keys).Distinct().ToList();
        var (used, unused) = (known.Where(Has).ToList(), known.Where(symbol => !Has(symbol)).ToList());
        // A number to begin with: what the subjects have in the middle.
        string Mean(string symbol) =>
            NumberWords.Of(
                subjects.Select(one => one.Covariates.GetValueOrDefault(symbol, double.NaN)).Where(double.IsFinite).Average(),
                2
            );
        bool Has(string symbol) => document.DefinitionBySymbol(symbol) is { } part && !Formula.Read(part.Text).HasNames;
        return $"{subjects.Count} {(subjects.Count == 1 ? "subject" : "subjects")}"
            + (doses > 0 ? $", {doses} {(doses == 1 ? "dose" : "doses")} in all" : "")
            + "."
            + (used.Count > 0 ? $" Each has its own {string.Join(" and ", used)}, in the place of the model’s." : "")
            + (
                unused.Count > 0
                    ? $" No value of the model is called {string.Join(" or ", unused)}: add one in Build, as in {unused[0]} = "
                        + $"{Mean(unused[0])}, to use it in formulas."
                    : ""
            );
    }

    /// <summary>What a table changes of the series that it takes the place of.</summary>
    public static string Version(Series before, MappedCounts mapped)
    {
        var (added, changed, gone) = DataChanges.Between(before.Data.Rows, mapped.Rows);
        string Count(int count, string what) => $"{count} {(count == 1 ? "row" : "rows")} {what}";
        string[] parts =
        [
            .. new[] { (added, "added"), (changed, "changed"), (gone, "gone") }
                .Where(part => part.Item1 > 0)
                .Select(part => Count(part.Item1, part.Item2)),
        ];
        return $"This is the next version of {before.Observation.Label}: "
            + (parts.Length == 0 ? "no row has changed." : $"{string.Join(", ", parts)}. Give it another name to keep both.");
    }

    /// <summary>A date as people write it.</summary>
    public static string Of(LocalDate date) => date.ToString("d MMMM uuuu", CultureInfo.InvariantCulture);

    /// <summary>From when to when the rows count, and how long one is.</summary>
    public static string Span(MappedCounts mapped, ObservedAs seen, TimeUnit unit) =>
        !seen.HasInterval()
            ? $"from {unit.Singular} {NumberWords.Of(mapped.Rows[0].End)} to {NumberWords.Of(mapped.Rows[^1].End)}"
            : $"from {unit.Singular} {NumberWords.Of(mapped.Rows[0].Start)} to {NumberWords.Of(mapped.Rows[^1].End)}, "
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
