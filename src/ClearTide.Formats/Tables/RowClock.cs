using ClearTide.Core.Language;
using NodaTime;

namespace ClearTide.Formats.Tables;

/// <summary>Reads the times of rows as times of the study.</summary>
/// <param name="Origin">The date of time zero, where times are dates.</param>
internal sealed record RowClock(TimeForm Form, NumberForm Numbers, LocalDate? Origin, TimeUnit Unit)
{
    /// <summary>A day in the study's unit of time where times are dates; 0 where they are numbers.</summary>
    public double Day => Form == TimeForm.Number ? 0 : TimeUnit.Day.Seconds / Unit.Seconds;

    /// <summary>Where a row begins and ends: the same where its time says no more.</summary>
    /// <param name="reason">Why it cannot be read, where it cannot.</param>
    public (double Start, double End)? Read(string cell, out string reason) =>
        Read(cell, Form == TimeForm.Number ? Numbers.Read(cell) ?? double.NaN : double.NaN, out reason);

    /// <param name="number">The cell as a number; not a number where it is none.</param>
    public (double Start, double End)? Read(string cell, double number, out string reason)
    {
        reason = "";
        if (Form == TimeForm.Number)
        {
            if (!double.IsNaN(number))
                return (number, number);
        }
        else if (DateForm.Read(Form, cell) is { } date && Origin is { } zero)
        {
            var start = CalendarTime.Of(date.At, zero, Unit);
            return (start, date.Until is { } until ? CalendarTime.Of(until.AtMidnight(), zero, Unit) : start);
        }
        reason =
            NumberForm.IsMissing(cell) ? "the time is missing"
            : Form == TimeForm.Number ? $"the time “{CellText.Short(cell, 20)}” is not a number"
            : $"the time “{CellText.Short(cell, 20)}” is not a date of this form";
        return null;
    }
}

/// <summary>Cells as messages show them.</summary>
internal static class CellText
{
    public static string Short(string cell, int most) => cell.Length <= most ? cell : cell[..(most - 1)] + "…";

    /// <summary>What a row holds, as it is listed where it cannot be used.</summary>
    public static string Row(IEnumerable<string> cells) => Short(string.Join(" · ", cells.Where(cell => cell.Length > 0)), 60);
}
