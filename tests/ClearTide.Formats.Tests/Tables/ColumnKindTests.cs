using ClearTide.Core.Language;
using ClearTide.Formats.Tables;

namespace ClearTide.Formats.Tests.Tables;

/// <summary>Columns that say where an interval ends, what is below detection, and what a dose goes into.</summary>
public class ColumnKindTests
{
    private static MappedCounts Map(string text, bool atOneTime = false, params (string Name, string Id)[] targets)
    {
        var table = CountTable.Read(text);
        var roles = ColumnRoles.Guess(table);
        var series = Assert.Single(ColumnRoles.Series(table, roles));
        return CountMapper.Map(
            table,
            new(roles.IndexOf(ColumnRole.Time), series.Value)
            {
                AtOneTime = atOneTime,
                BelowColumn = series.Below,
                OtherEndColumn = ColumnRoles.OtherEnd(roles),
                Subjects = ColumnRoles.Subjects(table, roles, [], targets),
            },
            new(null, TimeUnit.Day)
        );
    }

    [Theory]
    [InlineData("from,to,cases\n0,7,5\n7,10,3\n12,20,4")]
    [InlineData("to (days),from (days),cases\n7,0,5\n10,7,3\n20,12,4")]
    [InlineData("start;cases;end\n12;4;20\n0;5;7\n7;3;10")]
    public void Intervals_have_both_ends(string text)
    {
        var rows = Map(text).Rows;
        Assert.Equal([(0.0, 7.0, 5.0), (7, 10, 3), (12, 20, 4)], rows.Select(row => (row.Start, row.End, row.Value)));
    }

    [Theory]
    [InlineData("from,to,cases\n2026-02-02,2026-02-08,5\n2026-02-09,2026-02-15,3\n2026-02-16,2026-02-28,4")] // last days count
    [InlineData("from,to,cases\n2026-02-16,2026-02-28,4\n2026-02-09,2026-02-15,3\n2026-02-02,2026-02-08,5")] // newest first
    [InlineData("from,to,cases\n2026-02-02,2026-02-09,5\n2026-02-09,2026-02-16,3\n2026-02-16,2026-03-01,4")] // they do not
    public void The_last_day_counts_where_the_next_interval_begins_the_day_after(string text) =>
        Assert.Equal([(0.0, 7.0), (7, 14), (14, 27)], Map(text).Rows.Select(row => (row.Start, row.End)));

    [Fact]
    public void An_interval_without_an_end_or_a_length_is_listed()
    {
        var mapped = Map("from,to,cases\n0,7,5\n7,,3\n14,14,2\n14,soon,2\n21,28,4");
        Assert.Equal(2, mapped.Rows.Length);
        Assert.Equal(
            [(3, "it does not say where its interval ends"), (4, "its interval has no length"), (5, "the time “soon” is not a number")],
            mapped.Bad.Select(bad => (bad.Row, bad.Reason))
        );
    }

    [Theory]
    [InlineData("hour,level,below\n1,5.5,0\n2,2,1\n3,4,0\n4,2,1")]
    [InlineData("hour,level,below detection\n1,5.5,no\n2,2,yes\n3,4,\n4,2,yes")]
    [InlineData("hour,level,LLOQ\n1,5.5,2\n2,1.1,2\n3,4,2\n4,BLQ,2")]
    [InlineData("hour,level,limit of detection\n1,5.5,2\n2,0,2\n3,4,1\n4,<2,1")]
    public void A_mark_or_a_limit_says_what_is_below_detection(string text)
    {
        var rows = Map(text, atOneTime: true).Rows;
        Assert.Equal([(5.5, false), (2, true), (4, false), (2, true)], rows.Select(row => (row.Value, row.Below)));
    }

    [Fact]
    public void Each_series_has_limits_of_its_own_right_of_it()
    {
        var table = CountTable.Read("hour,level,LLOQ,other,LLOQ\n1,5,2,1,3\n2,1,2,7,3");
        var roles = ColumnRoles.Guess(table);
        Assert.Equal([ColumnRole.Time, ColumnRole.Value, ColumnRole.Below, ColumnRole.Value, ColumnRole.Below], roles);
        var limited = ColumnRoles
            .Series(table, roles)
            .Select(one => CountMapper.Map(table, new(0, one.Value) { AtOneTime = true, BelowColumn = one.Below }, new(null, TimeUnit.Day)))
            .Select(mapped => mapped.Rows.Select(row => (row.Value, row.Below)));
        Assert.Equal(
            [
                [(5.0, false), (2, true)],
                [(3, true), (7, false)],
            ],
            limited
        );
        ColumnRole[] left = [ColumnRole.Time, ColumnRole.Below, ColumnRole.Value, ColumnRole.Out, ColumnRole.Out];
        Assert.Contains("right of them", Assert.Throws<TableException>(() => ColumnRoles.Series(table, left)).Message);
    }

    [Fact]
    public void What_a_mark_or_a_limit_leaves_open_is_listed()
    {
        var marked = Map("hour,level,below\n1,5.5,0\n2,,1\n3,4,0", atOneTime: true);
        Assert.Equal("it is below a limit, and does not say which", Assert.Single(marked.Bad).Reason);
        var limited = Map("hour,level,lod\n1,5.5,2\n2,,2\n3,4,low", atOneTime: true);
        Assert.Equal(
            [(3, "the count is missing"), (4, "the limit “low” is not a number")],
            limited.Bad.Select(bad => (bad.Row, bad.Reason))
        );
    }

    [Fact]
    public void Each_dose_goes_into_what_its_row_says()
    {
        var mapped = Map(
            "id,hour,dose,over,into,level\n1,0,100,,G,\n1,0,50,2,Blood,\n1,1,,,,5\n1,12,70,,,\n2,0,30,,liver,\n2,1,,,,4",
            atOneTime: true,
            ("G", "c1"),
            ("Gut", "c1"),
            ("g", "c3"),
            ("C", "c2"),
            ("blood", "c2")
        );
        Assert.Equal(
            [(0.0, 100.0, 0.0, "c1"), (0, 50, 2, "c2"), (12, 70, 0, null)],
            mapped.Subjects[0].Doses.Select(dose => (dose.Time, dose.Amount, dose.Duration, dose.Into))
        );
        var bad = Assert.Single(mapped.Bad);
        Assert.Equal((6, "the dose goes into “liver”, which is no compartment of the model"), (bad.Row, bad.Reason));
    }

    [Theory]
    [InlineData(new[] { ColumnRole.Time, ColumnRole.OtherEnd, ColumnRole.OtherEnd, ColumnRole.Value }, "other end")]
    [InlineData(new[] { ColumnRole.Time, ColumnRole.Target, ColumnRole.Subject, ColumnRole.Value }, "belongs to doses")]
    public void Roles_that_do_not_fit_are_refused(ColumnRole[] roles, string words)
    {
        var table = CountTable.Read("a,b,c,d\n1,2,x,4\n2,3,y,5");
        var refusal = Assert.Throws<TableException>(() => (ColumnRoles.OtherEnd(roles), ColumnRoles.Subjects(table, roles, [])));
        Assert.Contains(words, refusal.Message);
    }
}
