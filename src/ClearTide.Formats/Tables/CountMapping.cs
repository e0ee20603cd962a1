using System.Collections.Immutable;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using NodaTime;

namespace ClearTide.Formats.Tables;

/// <summary>What the time of a row says of its interval.</summary>
public enum TimeMark
{
    /// <summary>Where it ends.</summary>
    End,

    /// <summary>Where it begins.</summary>
    Start,

    /// <summary>Its middle.</summary>
    Middle,
}

/// <summary>How long the intervals of rows are, where the times do not say it themselves.</summary>
public enum IntervalRule
{
    /// <summary>All alike: as typed, or the usual spacing of the rows.</summary>
    Fixed,

    /// <summary>Each reaches to the row beside it.</summary>
    ToNeighbour,
}

/// <summary>What to do with rows of the same time.</summary>
public enum SameTime
{
    /// <summary>The first counts; the others are listed.</summary>
    First,

    /// <summary>They are summed.</summary>
    Sum,

    /// <summary>Their mean counts once.</summary>
    Mean,

    /// <summary>Each counts, as what was seen several times does.</summary>
    Each,
}

/// <summary>Which columns hold the time and the values of one series, and how both are to be read.</summary>
/// <param name="Times">What times are written as; null to guess it.</param>
/// <param name="Numbers">How numbers are written; null for the guess from the table.</param>
/// <param name="Interval">Length of a row's interval in the study's time unit; null for the usual spacing of the rows.</param>
/// <param name="RunningTotals">Whether values are totals up to their time: counts are their differences.</param>
public sealed record CountMapping(
    int TimeColumn,
    int ValueColumn,
    TimeMark Marks = TimeMark.End,
    double? Interval = null,
    IntervalRule Rule = IntervalRule.Fixed,
    TimeForm? Times = null,
    NumberForm? Numbers = null,
    bool RunningTotals = false,
    SameTime Same = SameTime.First
)
{
    /// <summary>Whether values were seen at one time each, and not counted in an interval: they may be any number, and rows have no
    /// length.</summary>
    public bool AtOneTime { get; init; }

    /// <summary>The column of standard deviations or errors; null where there is none.</summary>
    public int? ErrorColumn { get; init; }

    /// <summary>The column that says out of how many the values were counted; null where there is none.</summary>
    public int? OutOfColumn { get; init; }

    /// <summary>The column that says as how many rows each counts; null where they count alike.</summary>
    public int? WeightColumn { get; init; }

    /// <summary>The column that says which values are below what could be seen; null where none does.</summary>
    public int? BelowColumn { get; init; }

    /// <summary>The column of the other end of each row's interval; null where times stand alone.</summary>
    public int? OtherEndColumn { get; init; }

    /// <summary>Of whom rows are; null where they are all of one, of whom nothing is said.</summary>
    public SubjectColumns? Subjects { get; init; }

    /// <summary>In a long table, the column that says which series a row belongs to, and what it holds for this one.</summary>
    public (int Column, string Cell)? Only { get; init; }
}

/// <summary>The calendar that dates are read against.</summary>
/// <param name="Origin">The date of time zero; null where the study has none, so that the first date becomes it.</param>
public sealed record TableCalendar(LocalDate? Origin, TimeUnit Unit);

/// <summary>A row that could not be used: its number in the file, what it holds, and why.</summary>
public sealed record BadRow(int Row, string Reason, string Content = "");

/// <summary>A table read through a mapping.</summary>
/// <param name="Interval">The usual length of an interval.</param>
/// <param name="Times">What times were read as.</param>
/// <param name="Numbers">How numbers were read.</param>
/// <param name="Origin">The date of time zero where times are dates, else null.</param>
/// <param name="Notes">What was done to the rows that nobody asked for, and what might be meant instead; a sentence each.</param>
public sealed record MappedCounts(
    ImmutableArray<DataRow> Rows,
    ImmutableArray<BadRow> Bad,
    double Interval,
    bool WasSorted,
    TimeForm Times,
    NumberForm Numbers,
    LocalDate? Origin,
    ImmutableArray<string> Notes
)
{
    /// <summary>Those that rows are of, with what was given to each and what is known of it; empty where nobody is named.</summary>
    public ImmutableArray<Subject> Subjects { get; init; } = [];
}
