using ClearTide.Core.Language;
using ClearTide.Formats.Tables;
using NodaTime;

namespace ClearTide.Formats.Tests;

public class DateFormTests
{
    private static readonly LocalDate Third = new(2026, 2, 3);

    [Theory]
    [InlineData(TimeForm.YearMonthDay, "2026-02-03")]
    [InlineData(TimeForm.YearMonthDay, "2026/2/3")]
    [InlineData(TimeForm.YearMonthDay, "20260203")]
    [InlineData(TimeForm.YearMonthDay, "2026-02-03 00:00:00")]
    [InlineData(TimeForm.DayMonthYear, "03.02.2026")]
    [InlineData(TimeForm.DayMonthYear, "3.2.26")]
    [InlineData(TimeForm.DayMonthYear, "3/2/2026")]
    [InlineData(TimeForm.DayMonthYear, "3 Feb 2026")]
    [InlineData(TimeForm.DayMonthYear, "3 February 2026")]
    [InlineData(TimeForm.DayMonthYear, "03-Feb-2026")]
    [InlineData(TimeForm.MonthDayYear, "02/03/2026")]
    [InlineData(TimeForm.MonthDayYear, "Feb 3, 2026")]
    public void One_day_in_many_spellings(TimeForm form, string cell)
    {
        Assert.Equal(Third.AtMidnight(), DateForm.Read(form, cell)!.Value.At);
        Assert.Equal(
            form,
            DateForm.Guess([cell, cell], "date", NumberForm.Plain) is var guess && form == TimeForm.MonthDayYear && cell[0] == '0'
                ? TimeForm.MonthDayYear
                : guess
        );
    }

    [Theory]
    [InlineData("2026-W06", "2026-02-02")]
    [InlineData("2026 W6", "2026-02-02")]
    [InlineData("W06 2026", "2026-02-02")]
    [InlineData("week 1/2026", "2025-12-29")]
    [InlineData("2026-W53", "2026-12-28")]
    public void Iso_weeks_begin_on_their_monday(string cell, string monday)
    {
        var week = DateForm.Read(TimeForm.IsoWeek, cell)!.Value;
        Assert.Equal(monday, week.At.Date.ToString("uuuu-MM-dd", null));
        Assert.Equal(IsoDayOfWeek.Monday, week.At.DayOfWeek);
        Assert.Equal(7, Period.DaysBetween(week.At.Date, week.Until!.Value));
    }

    /// <summary>Weeks from Sunday, the first with at least four days in January: 2026 begins on Sunday 4 January.</summary>
    [Fact]
    public void Two_digits_of_a_year_are_of_this_century_up_to_68()
    {
        Assert.Equal(2068, DateForm.Read(TimeForm.DayMonthYear, "3.2.68")!.Value.At.Year);
        Assert.Equal(1969, DateForm.Read(TimeForm.DayMonthYear, "3.2.69")!.Value.At.Year);
    }

    [Fact]
    public void Epidemiological_weeks_begin_on_their_sunday()
    {
        Assert.Equal(new LocalDate(2026, 1, 4), DateForm.Read(TimeForm.EpidemiologicalWeek, "2026-W01")!.Value.At.Date);
        Assert.Equal(new LocalDate(2026, 2, 8), DateForm.Read(TimeForm.EpidemiologicalWeek, "2026-W06")!.Value.At.Date);
        Assert.Null(DateForm.Read(TimeForm.EpidemiologicalWeek, "2026-W53"));
    }

    [Theory]
    [InlineData("2026-02", 28)]
    [InlineData("02/2024", 29)]
    [InlineData("Feb 2026", 28)]
    [InlineData("December 2026", 31)]
    public void A_month_has_its_own_length(string cell, int days)
    {
        var month = DateForm.Read(TimeForm.Month, cell)!.Value;
        Assert.Equal(days, Period.DaysBetween(month.At.Date, month.Until!.Value));
    }

    [Fact]
    public void Times_are_guessed_from_all_cells()
    {
        TimeForm Guess(string heading, params string[] cells) => DateForm.Guess(cells, heading, NumberForm.Plain);
        Assert.Equal(TimeForm.DayMonthYear, Guess("date", "03/02/2026", "13/02/2026"));
        Assert.Equal(TimeForm.MonthDayYear, Guess("date", "02/03/2026", "02/13/2026"));
        Assert.Equal(TimeForm.DayMonthYear, Guess("date", "02/03/2026", "NA", "05/03/2026"));
        Assert.Equal(TimeForm.Number, Guess("day", "7", "14", "21"));
        Assert.Equal(TimeForm.Number, Guess("day", "2026", "2027"));
        Assert.Equal(TimeForm.Year, Guess("year", "2026", "2027"));
        Assert.Equal(TimeForm.EpidemiologicalWeek, Guess("epiweek", "2026-W06"));
        Assert.Equal(TimeForm.YearMonthDay, Guess("when", "2026-02-03", "2026-02-10", "total"));
    }

    [Fact]
    public void An_order_of_day_and_month_that_nothing_settles_is_said_to_be_a_guess()
    {
        Assert.True(DateForm.IsAmbiguous(TimeForm.DayMonthYear, ["03/02/2026", "05/02/2026"]));
        Assert.False(DateForm.IsAmbiguous(TimeForm.DayMonthYear, ["03/02/2026", "13/02/2026"]));
        Assert.False(DateForm.IsAmbiguous(TimeForm.YearMonthDay, ["2026-02-03"]));
    }

    /// <summary>Days, weeks and hours are counted; months and years are as long as they are.</summary>
    [Fact]
    public void Dates_become_model_time()
    {
        var origin = new LocalDate(2026, 1, 31);
        double At(LocalDate date, TimeUnit unit) => CalendarTime.Of(date.AtMidnight(), origin, unit);
        Assert.Equal(3, At(Third, TimeUnit.Day));
        Assert.Equal(72, At(Third, TimeUnit.Hour));
        Assert.Equal(3 / 7.0, At(Third, TimeUnit.Week), 1e-15);
        Assert.Equal(-31, At(new(2025, 12, 31), TimeUnit.Day));
        // From 31 January one month is 28 February, two are 31 March: 3 February is 3 of 28 days in.
        Assert.Equal(3 / 28.0, At(Third, TimeUnit.Month), 1e-15);
        Assert.Equal(1, At(new(2026, 2, 28), TimeUnit.Month), 1e-15);
        Assert.Equal(2, At(new(2026, 3, 31), TimeUnit.Month), 1e-15);
        Assert.Equal(-1, At(new(2025, 12, 31), TimeUnit.Month), 1e-15);
        Assert.Equal(1, At(new(2027, 1, 31), TimeUnit.Year), 1e-15);
        // 2028 has 366 days: half of it is 183.
        Assert.Equal(0.5, CalendarTime.Of(new LocalDate(2028, 1, 1).PlusDays(183).AtMidnight(), new(2028, 1, 1), TimeUnit.Year), 1e-15);
    }
}
