using ClearTide.Core.Language;
using NodaTime;

namespace ClearTide.Formats.Tables;

/// <summary>Dates as model time, from the date of time zero; months and years have their true lengths.</summary>
public static class CalendarTime
{
    private const double SecondsPerDay = 86_400;

    /// <summary>How much of the study's unit of time has passed from the origin to a moment; negative before it.</summary>
    public static double Of(LocalDateTime at, LocalDate origin, TimeUnit unit)
    {
        if (unit == TimeUnit.Month)
            return Whole(at, origin, 1);
        if (unit == TimeUnit.Year)
            return Whole(at, origin, 12);
        var ticks = Period.Between(origin.AtMidnight(), at, PeriodUnits.Ticks).Ticks;
        return ticks / (NodaConstants.TicksPerSecond * unit.Seconds);
    }

    /// <summary>Whole stretches of so many months, and the share of the one that has begun.</summary>
    private static double Whole(LocalDateTime at, LocalDate origin, int months)
    {
        var start = origin.AtMidnight();
        var passed = (at.Year - start.Year) * 12 + at.Month - start.Month;
        var whole = (int)Math.Floor(passed / (double)months);
        if (start.PlusMonths(whole * months) > at)
            whole--;
        var (from, until) = (start.PlusMonths(whole * months), start.PlusMonths((whole + 1) * months));
        return whole + Seconds(from, at) / Seconds(from, until);
    }

    private static double Seconds(LocalDateTime from, LocalDateTime until) =>
        Period.Between(from, until, PeriodUnits.Days | PeriodUnits.Ticks) is var length
            ? length.Days * SecondsPerDay + length.Ticks / (double)NodaConstants.TicksPerSecond
            : 0;
}
