using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Formats.Tables;

namespace ClearTide.Formats.Tests.Tables;

/// <summary>Columns that stand beside values: out of how many, weights, and which run of a subject.</summary>
public class BesideValueTests
{
    private static MappedCounts Map(string text, SameTime same = SameTime.First, IReadOnlyList<ColumnRole>? roles = null)
    {
        var table = CountTable.Read(text);
        roles ??= ColumnRoles.Guess(table);
        var series = Assert.Single(ColumnRoles.Series(table, roles));
        var mapping = new CountMapping(roles.ToList().IndexOf(ColumnRole.Time), series.Value, Same: same)
        {
            AtOneTime = true,
            ErrorColumn = series.Error,
            OutOfColumn = series.OutOf,
            WeightColumn = series.Weight,
            Subjects = ColumnRoles.Subjects(table, roles, []),
        };
        return CountMapper.Map(table, mapping, new(null, TimeUnit.Day));
    }

    [Theory]
    [InlineData("day,positive,tested\n10,13,200\n20,0,150\n30,40,40")]
    [InlineData("day,tested,positive\n10,200,13\n20,150,0\n30,40,40")]
    [InlineData("day;examined;share\n10;200;0,065\n20;150;0\n30;40;1")]
    [InlineData("day,share positive,out of\n10,6.5%,200\n20,0%,150\n30,100%,40")]
    public void Counts_and_shares_out_of_a_number_are_the_same(string text)
    {
        var rows = Map(text).Rows;
        Assert.Equal([200.0, 150, 40], rows.Select(row => row.OutOf));
        Assert.Equal([0.065, 0, 1], rows.Select(row => row.Value));
    }

    [Fact]
    public void Cases_beside_how_many_were_tested_are_counts_of_their_own()
    {
        Assert.Equal(
            [ColumnRole.Time, ColumnRole.Value, ColumnRole.Value],
            ColumnRoles.Guess(CountTable.Read("day,cases,tested\n7,13,200\n14,20,150"))
        );
        // A season is no run of a subject where nobody is named.
        Assert.DoesNotContain(ColumnRole.Occasion, ColumnRoles.Guess(CountTable.Read("period,week,cases\n1,1,5\n1,2,8\n2,1,4\n2,2,9")));
    }

    [Fact]
    public void What_is_out_of_nothing_or_more_than_all_is_listed()
    {
        var mapped = Map("day,positive,tested\n10,13,200\n20,5,\n30,41,40\n40,1,0\n50,-1,30\n60,2,many");
        Assert.Single(mapped.Rows);
        Assert.Equal(
            [
                "it does not say out of how many",
                "41 of 40 is more than all",
                "“0” is not how many were looked at",
                "-1 of 30 is more than all",
                "“many” is not how many were looked at",
            ],
            mapped.Bad.Select(row => row.Reason.Replace("−", "-", StringComparison.Ordinal))
        );
    }

    [Fact]
    public void Shares_of_one_time_are_pooled()
    {
        foreach (var same in new[] { SameTime.Sum, SameTime.Mean })
        {
            var row = Assert.Single(Map("day,positive,tested\n10,13,200\n10,5,100", same).Rows);
            Assert.Equal((18 / 300.0, 300), (row.Value, row.OutOf));
        }
    }

    [Fact]
    public void Weights_are_read_beside_every_series()
    {
        var mapped = Map("day,level,row weight\n1,5,2\n2,4,\n3,6,-1\n4,3,0");
        Assert.Equal([2.0, null, 0], mapped.Rows.Select(row => row.GivenWeight));
        Assert.Equal([2.0, 1, 0], mapped.Rows.Select(row => row.Weight));
        Assert.Contains("the weight “-1” is not a number from zero on", Assert.Single(mapped.Bad).Reason);
        Assert.Equal([null, null, null, null], Map("day,weight\n1,70\n2,71\n3,72\n4,73").Rows.Select(row => row.GivenWeight));
    }

    [Fact]
    public void Two_columns_of_weights_are_refused_and_running_totals_are_not_out_of_a_number()
    {
        var table = CountTable.Read("day,level,a,b\n1,5,2,3\n2,4,1,1");
        var refusal = Assert.Throws<TableException>(() =>
            ColumnRoles.Series(table, [ColumnRole.Time, ColumnRole.Value, ColumnRole.Weight, ColumnRole.Weight])
        );
        Assert.Contains("weights of rows", refusal.Message);
        var counts = CountTable.Read("day,positive,tested\n1,5,20\n2,6,20");
        refusal = Assert.Throws<TableException>(() =>
            CountMapper.Map(counts, new(0, 1, RunningTotals: true) { OutOfColumn = 2 }, new(null, TimeUnit.Day))
        );
        Assert.Contains("Running totals are of counts", refusal.Message);
    }

    [Fact]
    public void Runs_of_a_subject_that_begin_anew_are_bodies_of_their_own()
    {
        var mapped = Map("id,occasion,hour,dose,level\n1,1,0,100,\n1,1,2,,5.1\n1,2,0,200,\n1,2,2,,9.8\n2,1,0,100,\n2,1,2,,4.2\n2,,4,,3");
        Assert.Equal(["1, 1", "1, 2", "2, 1"], mapped.Subjects.Select(one => one.Name));
        Assert.Equal([100.0, 200, 100], mapped.Subjects.Select(one => Assert.Single(one.Doses).Amount));
        Assert.Equal([("1, 1", 5.1), ("1, 2", 9.8), ("2, 1", 4.2)], mapped.Rows.Select(row => (row.Subject!, row.Value)));
        Assert.Contains(mapped.Bad, row => row.Reason == "it does not say of whom it is");
        // Visits whose times go on are no new runs.
        var table = CountTable.Read("id,visit,hour,level\n1,1,0,5\n1,2,2,4\n2,1,0,6\n2,2,2,5");
        Assert.Equal([ColumnRole.Subject, ColumnRole.Out, ColumnRole.Time, ColumnRole.Value], ColumnRoles.Guess(table));
    }

    [Theory]
    [InlineData("id,occasion,hour,dose,level\n1,1,0,100,\n1,1,2,,5.1\n1,1,24,,1.2\n1,2,24,200,\n1,2,26,,9.8\n2,1,0,100,\n2,1,2,,4.2")]
    [InlineData("id,occasion,hour,dose,level\n1,2,24,200,\n1,2,26,,9.8\n2,1,0,100,\n1,1,0,100,\n1,1,2,,5.1\n2,1,2,,4.2\n1,1,24,,1.2")]
    public void Runs_of_a_subject_that_go_on_in_time_are_one(string text)
    {
        ColumnRole[] roles = [ColumnRole.Subject, ColumnRole.Occasion, ColumnRole.Time, ColumnRole.Dose, ColumnRole.Value];
        var mapped = Map(text, roles: roles);
        var first = mapped.Subjects.Single(one => one.Name == "1");
        Assert.Equal([(0.0, 100.0), (24, 200)], first.Doses.Select(dose => (dose.Time, dose.Amount)));
        Assert.Equal([2.0, 24, 26], mapped.Rows.Where(row => row.Subject == "1").Select(row => row.End));
        Assert.Contains(mapped.Notes, note =>
            note.StartsWith("The times of occasion go on from one to the next", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void A_tenth_less_a_tenth_is_where_time_begins()
    {
        var table = CountTable.Read("day,cases\n0.1,3\n0.2,4\n0.30000000000000004,2\n0.4,5");
        var rows = CountMapper.Map(table, new(0, 1), new(null, TimeUnit.Day)).Rows;
        Assert.Equal(0, rows[0].Start);
        foreach (var (one, next) in rows.Zip(rows.Skip(1)))
            Assert.Equal(one.End, next.Start);
    }

    [Theory]
    [InlineData("a,b\n1,x\n2,y", 2, "1,9", "a,b\n1,9\n2,y")]
    [InlineData("a,b\r\n1,x\r\n", 2, "1,9\r\n7,7", "a,b\r\n1,9  7,7\r\n")]
    [InlineData("a,b", 9, "z", "a,b")]
    public void A_line_is_mended_and_the_others_stay(string text, int row, string line, string expected) =>
        Assert.Equal(expected, new TableLines(text).With([(row, line)]));
}
