using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;
using NodaTime.Calendars;
using NodaTime.Text;

namespace ClearTide.Formats.Tables;

/// <summary>What a time in a table is written as.</summary>
public enum TimeForm
{
    /// <summary>A number in the study's unit of time.</summary>
    Number,

    /// <summary>Year, month, day: 2026-02-03.</summary>
    YearMonthDay,

    /// <summary>Day, month, year: 03.02.2026, 3 Feb 2026.</summary>
    DayMonthYear,

    /// <summary>Month, day, year: 02/03/2026, Feb 3, 2026.</summary>
    MonthDayYear,

    /// <summary>Weeks from Monday by ISO 8601: 2026-W06.</summary>
    IsoWeek,

    /// <summary>Weeks from Sunday, the first with at least four days in the year: 2026-W06.</summary>
    EpidemiologicalWeek,

    /// <summary>Months: 2026-02, Feb 2026.</summary>
    Month,

    /// <summary>Years: 2026.</summary>
    Year,
}

/// <summary>The time that a cell names: a moment, or a stretch from its first day to the day after its last.</summary>
/// <param name="Until">The first day behind the stretch; null for a moment.</param>
public readonly record struct TableDate(LocalDateTime At, LocalDate? Until);

/// <summary>Dates as tables hold them. The patterns and all arithmetic are NodaTime's.</summary>
public static partial class DateForm
{
    /// <summary>Two digits of a year up to these are of this century, as POSIX has it (strptime, %y).</summary>
    private const int LastOfThisCentury = 68;

    private static readonly string[] Separators = ["-", "/", "."];

    private static readonly LocalDateTimePattern[] YearFirst = Patterns([
        .. Separators.Select(mark => $"uuuu{mark}M{mark}d"),
        "uuuu MMM d",
        "uuuuMMdd",
    ]);

    private static readonly LocalDateTimePattern[] DayFirst = Patterns([
        .. Separators.SelectMany(mark => new[] { $"d{mark}M{mark}uuuu", $"d{mark}M{mark}yy", $"d{mark}MMM{mark}uuuu" }),
        "d MMM uuuu",
        "d MMMM uuuu",
        "d. MMMM uuuu",
    ]);

    private static readonly LocalDateTimePattern[] MonthFirst = Patterns([
        .. Separators.SelectMany(mark => new[] { $"M{mark}d{mark}uuuu", $"M{mark}d{mark}yy" }),
        "MMM d, uuuu",
        "MMMM d, uuuu",
        "MMM d uuuu",
    ]);

    private static readonly YearMonthPattern[] Months =
    [
        .. new[] { "uuuu-MM", "uuuu/MM", "MM/uuuu", "MM.uuuu", "MMM uuuu", "MMMM uuuu", "MMM-uuuu", "uuuu MMM" }.Select(
            YearMonthPattern.CreateWithInvariantCulture
        ),
    ];

    private static readonly IWeekYearRule Epidemiological = WeekYearRules.ForMinDaysInFirstWeek(4, IsoDayOfWeek.Sunday);

    /// <summary>Each date alone, and with a time of day behind it.</summary>
    private static LocalDateTimePattern[] Patterns(string[] dates) =>
        [
            .. new[] { "", " HH:mm", " HH:mm:ss", "'T'HH:mm", "'T'HH:mm:ss", " H:mm" }.SelectMany(time =>
                dates.Select(date => LocalDateTimePattern.CreateWithInvariantCulture(date + time).WithTwoDigitYearMax(LastOfThisCentury))
            ),
        ];

    /// <summary>A cell as a date of this form, or null.</summary>
    public static TableDate? Read(TimeForm form, string cell)
    {
        var text = cell.Trim();
        if (IsNumber(text) is { } digitsAlone && form is not TimeForm.Year)
        {
            // Most cells of most columns are numbers, of which each pattern would be tried in vain.
            var possible = digitsAlone ? form == TimeForm.YearMonthDay && text.Length == CompactDate : form == TimeForm.Month;
            if (!possible)
                return null;
        }
        return form switch
        {
            TimeForm.YearMonthDay => Moment(YearFirst, text),
            TimeForm.DayMonthYear => Moment(DayFirst, text),
            TimeForm.MonthDayYear => Moment(MonthFirst, text),
            TimeForm.IsoWeek => Week(text, WeekYearRules.Iso, IsoDayOfWeek.Monday),
            TimeForm.EpidemiologicalWeek => Week(text, Epidemiological, IsoDayOfWeek.Sunday),
            TimeForm.Month => MonthOf(text),
            TimeForm.Year => int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var year)
            && year is >= 1000 and <= 2999
                ? new(new LocalDate(year, 1, 1).AtMidnight(), new LocalDate(year + 1, 1, 1))
                : null,
            _ => null,
        };
    }

    /// <summary>Digits of a date without marks.</summary>
    private const int CompactDate = 8;

    /// <summary>True for digits alone, false for digits with one point between them, null for anything else.</summary>
    private static bool? IsNumber(ReadOnlySpan<char> text)
    {
        var mark = text.IndexOfAnyExceptInRange('0', '9');
        return mark < 0 ? true
            : text[mark] == '.' && text[(mark + 1)..].IndexOfAnyExceptInRange('0', '9') < 0 ? false
            : null;
    }

    /// <summary>The form that reads all these cells, or else most of them; numbers where none reads half. Of day and month first, that
    /// which reads more; day first where both read all.</summary>
    /// <param name="heading">The heading of the column: a year is a year only where it says so.</param>
    public static TimeForm Guess(IReadOnlyCollection<string> cells, string heading, NumberForm numbers)
    {
        var some = cells.Where(cell => !NumberForm.IsMissing(cell)).Take(500).ToList();
        if (some.Count == 0)
            return TimeForm.Number;
        TimeForm[] order =
        [
            TimeForm.YearMonthDay,
            TimeForm.DayMonthYear,
            TimeForm.MonthDayYear,
            heading.Contains("epi", StringComparison.OrdinalIgnoreCase) ? TimeForm.EpidemiologicalWeek : TimeForm.IsoWeek,
            TimeForm.Month,
        ];
        if (YearHeading().IsMatch(heading) && some.Count(cell => Read(TimeForm.Year, cell) is not null) > some.Count / 2)
            return TimeForm.Year;
        var numeric = some.Count(cell => numbers.Read(cell) is not null);
        var best = order.Select(form => (Form: form, Read: some.Count(cell => Read(form, cell) is not null))).MaxBy(one => one.Read);
        return 2 * best.Read >= some.Count && best.Read >= numeric ? best.Form : TimeForm.Number;
    }

    /// <summary>Whether these cells could as well be of the other order of day and month.</summary>
    public static bool IsAmbiguous(TimeForm form, IEnumerable<string> cells)
    {
        if (form is not (TimeForm.DayMonthYear or TimeForm.MonthDayYear))
            return false;
        var other = form == TimeForm.DayMonthYear ? TimeForm.MonthDayYear : TimeForm.DayMonthYear;
        return cells.All(cell => Read(form, cell) is null || Read(other, cell) is not null)
            && cells.Any(cell => Read(form, cell) is { } one && Read(other, cell) is { } two && one.At != two.At);
    }

    private static TableDate? Moment(LocalDateTimePattern[] patterns, string text)
    {
        foreach (var pattern in patterns)
        {
            if (pattern.Parse(text) is { Success: true, Value: var value })
                return new(value, null);
        }
        return null;
    }

    private static TableDate? MonthOf(string text)
    {
        foreach (var pattern in Months)
        {
            if (pattern.Parse(text) is { Success: true, Value: var month })
                return new(month.OnDayOfMonth(1).AtMidnight(), month.OnDayOfMonth(1).PlusMonths(1));
        }
        return null;
    }

    private static TableDate? Week(string text, IWeekYearRule rule, IsoDayOfWeek first)
    {
        if (WeekOfYear().Match(text) is not { Success: true } match)
            return null;
        var (year, week) = (Number(match.Groups["year"]), Number(match.Groups["week"]));
        if (week < 1 || year is < 1000 or > 2999 || week > rule.GetWeeksInWeekYear(year, CalendarSystem.Iso))
            return null;
        var start = rule.GetLocalDate(year, week, first, CalendarSystem.Iso);
        return new(start.AtMidnight(), start.PlusDays(7));
    }

    private static int Number(Group digits) => int.Parse(digits.Value, CultureInfo.InvariantCulture);

    [GeneratedRegex(
        @"^(?<year>\d{4})[-\s/]?(?:W|KW|week\s?)(?<week>\d{1,2})$|^(?:W|KW|week)\s?(?<week>\d{1,2})[-\s/,]+(?<year>\d{4})$",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex WeekOfYear();

    [GeneratedRegex("year|jahr|season", RegexOptions.IgnoreCase)]
    private static partial Regex YearHeading();
}
