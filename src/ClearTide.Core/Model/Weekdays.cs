using System.Collections.Immutable;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>The days of the week along the time of a study whose time zero has a date.</summary>
/// <param name="document">Its <see cref="Refusal"/> is null.</param>
public sealed class Weekdays(StudyDocument document)
{
    /// <summary>As they are called, from Monday on.</summary>
    public static readonly ImmutableArray<string> Names = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

    /// <summary>How long a day is, in the study's unit of time.</summary>
    private readonly double _day = TimeUnit.Day.Seconds / document.TimeUnit.Seconds;

    /// <summary>When a Monday begins, in days from time zero.</summary>
    private readonly int _monday = (8 - (int)Require(document).DayOfWeek) % 7;

    private static DateOnly Require(StudyDocument document) =>
        Refusal(document) is { } refusal ? throw new ArgumentException(refusal) : document.Origin!.Value;

    /// <summary>Why a study has no weekdays, in a sentence; null where it has.</summary>
    /// <param name="document">The study; not changed.</param>
    public static string? Refusal(StudyDocument document) =>
        document.Origin is null
            ? "Weekdays need to know which day time zero is. Give it a date behind the dots beside the title, or bring data "
                + "with dates."
        : document.TimeUnit == TimeUnit.Month || document.TimeUnit == TimeUnit.Year
            ? $"A study in {document.TimeUnit.Plural} has no weekdays: they are not all of one length. Convert it to days beside the span."
        : null;

    /// <summary>A function of time that is one on a day of each week, and else nothing.</summary>
    /// <param name="day">From 0, a Monday.</param>
    public TableFunction Of(int day)
    {
        var from = _day * ((_monday + day) % 7);
        return new([new(from, 1), new(from + _day, 0)], Between.Step, Beyond.Repeat, Beyond.Repeat, 7 * _day);
    }

    /// <summary>The days, or parts of days, that a stretch of time is made of.</summary>
    /// <param name="from">When the stretch begins, in the unit of the study.</param>
    /// <param name="until">When it ends.</param>
    public IEnumerable<(double From, double Until)> Days(double from, double until)
    {
        // Midnight to within rounding is midnight.
        for (var at = from; at < until; )
        {
            var next = Math.Min(until, _day * (Math.Floor(at / _day + 1e-9) + 1));
            yield return (at, next);
            at = next;
        }
    }
}
