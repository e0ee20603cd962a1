using ClearTide.Core.Language;
using ClearTide.Formats.Tables;

namespace ClearTide.Formats.Tests;

public class CountTableTests
{
    private static MappedCounts Map(string text, CountMapping? mapping = null) =>
        CountMapper.Map(CountTable.Read(text), mapping ?? new(0, 1), new(null, TimeUnit.Day));

    [Theory]
    [InlineData("day,cases\n7,5\n14,9\n")]
    [InlineData("day;cases\r\n7;5\r\n14;9\r\n")]
    [InlineData("day\tcases\n7\t5\n14\t9")]
    [InlineData("7,5\n14,9")]
    [InlineData("\uFEFFday,cases\n\n7,5\n14,9\n")]
    public void Separator_heading_and_line_ends_are_guessed(string text)
    {
        var rows = Map(text).Rows;
        Assert.Equal([(0.0, 7.0, 5.0), (7.0, 14.0, 9.0)], rows.Select(row => (row.Start, row.End, row.Value)));
    }

    [Fact]
    public void A_decimal_comma_is_read_where_commas_do_not_separate() => Assert.Equal(3.5, Map("day;cases\n3,5;5\n7,0;9").Rows[0].End);

    [Fact]
    public void After_a_missing_week_the_next_row_is_still_one_week()
    {
        var rows = Map("day,cases\n7,5\n14,9\n28,20\n35,30").Rows;
        Assert.Equal((21, 28), (rows[2].Start, rows[2].End));
    }

    [Fact]
    public void Times_may_mark_the_start_and_intervals_be_typed() =>
        Assert.Equal((7, 10), Map("day,cases\n0,5\n7,9", new(0, 1, TimeMark.Start, 3)).Rows.Select(row => (row.Start, row.End)).Last());

    [Fact]
    public void Rows_out_of_order_are_sorted_and_said_so()
    {
        var mapped = Map("day,cases\n14,9\n7,5");
        Assert.True(mapped.WasSorted);
        Assert.Equal([5, 9], mapped.Rows.Select(row => row.Value));
        Assert.False(Map("day,cases\n7,5\n14,9").WasSorted);
    }

    [Fact]
    public void Each_bad_row_is_listed_with_its_number_and_reason()
    {
        var bad = Map("day,cases\n7,5\n14,many\n21,-3\n28,2.5\n35,\n42\n49,8\n49,9\nx,1").Bad;
        Assert.Equal([3, 4, 6, 7, 9, 10], bad.Select(row => row.Row));
        Assert.Contains("“many” is not a number", bad[0].Reason);
        Assert.Contains("negative", bad[1].Reason);
        Assert.Contains("missing", bad[2].Reason);
        Assert.Contains("too few columns", bad[3].Reason);
        Assert.Contains("stands in row 8 already", bad[4].Reason);
        Assert.Contains("the time “x”", bad[5].Reason);
    }

    [Fact]
    public void A_value_below_a_limit_is_a_row_that_says_so_in_whatever_form_numbers_are_written()
    {
        var table = CountTable.Read("hours;central (mg/l)\n0,5;2,25\n1;1,5\n2;<0,05\n4;< 0,05\n8;≤0,05\n12;<x\n");
        Assert.Equal([ColumnRole.Time, ColumnRole.Value], ColumnRoles.Guess(table));
        var mapped = CountMapper.Map(table, new(0, 1) { AtOneTime = true }, new(null, TimeUnit.Hour));
        Assert.Equal([2.25, 1.5, 0.05, 0.05, 0.05], mapped.Rows.Select(row => row.Value));
        Assert.Equal([false, false, true, true, true], mapped.Rows.Select(row => row.Below));
        Assert.Contains("“<x” is not a number", Assert.Single(mapped.Bad).Reason);
    }

    [Fact]
    public void What_is_below_a_limit_is_neither_averaged_nor_part_of_a_running_total()
    {
        const string text = "day,cases\n7,<5\n7,9\n14,12\n21,<5\n28,30\n";
        var same = Map(text, new(0, 1, Same: SameTime.Mean));
        Assert.Contains("cannot be put together with row 2", Assert.Single(same.Bad).Reason);
        Assert.Contains(Map(text, new(0, 1, RunningTotals: true)).Bad, row => row.Row == 5 && row.Reason.Contains("below a limit"));
    }

    [Fact]
    public void A_count_that_is_not_whole_is_used_and_said_so()
    {
        var mapped = Map("day,cases\n7,5\n14,2.5");
        Assert.Equal([5, 2.5], mapped.Rows.Select(row => row.Value));
        Assert.Contains("not whole, as in row 3: 2.5", Assert.Single(mapped.Notes));
    }

    [Fact]
    public void Values_of_one_time_may_be_any_number_and_bring_their_errors()
    {
        var mapped = Map("day,level,se\n3,-1.5,0.2\n1,4,0.1\n7,2,\n9,3,wide", new(0, 1) { AtOneTime = true, ErrorColumn = 2 });
        Assert.Equal([(1, 1, 4), (3, 3, -1.5), (7, 7, 2)], mapped.Rows.Select(row => (row.Start, row.End, row.Value)));
        Assert.Equal([0.1, 0.2, null], mapped.Rows.Select(row => row.Error));
        Assert.Contains("the error “wide” is not a number above zero", Assert.Single(mapped.Bad).Reason);
    }

    [Fact]
    public void Rows_of_one_time_are_averaged_with_the_error_of_their_mean()
    {
        var row = Assert.Single(
            Map("day,level,se\n1,4,3\n1,6,4\n1,11,0.1", new(0, 1, Same: SameTime.Mean) { AtOneTime = true, ErrorColumn = 2 }).Rows
        );
        Assert.Equal(7, row.Value, 1e-12);
        Assert.Equal(Math.Sqrt(9 + 16 + 0.01) / 3, row.Error!.Value, 1e-12);
    }

    [Fact]
    public void A_long_table_gives_each_series_its_rows()
    {
        const string text = "who,hour,level\nAsta,1,5\nBram,1,6\nAsta,2,4\nBram,2,3\nAsta,4,2\nBram,4,1";
        var table = CountTable.Read(text);
        var roles = ColumnRoles.Guess(table);
        Assert.Equal([ColumnRole.Which, ColumnRole.Time, ColumnRole.Value], roles);
        var series = ColumnRoles.Series(table, roles);
        Assert.Equal(["Asta", "Bram"], series.Select(one => one.Heading));
        var rows = Map(text, new(1, 2) { Only = series[1].Which, AtOneTime = true }).Rows;
        Assert.Equal([(1, 6), (2, 3), (4, 1)], rows.Select(row => (row.End, row.Value)));
    }

    [Theory]
    [InlineData("day,cases\n7,5\n14,9", "Time Value")]
    [InlineData("cases;date;deaths\n5;03.02.2031;1\n9;10.02.2031;0", "Value Time Value")]
    [InlineData("date,frames,SE,note\n2031-02-03,5,0.5,calm\n2031-02-10,9,0.4,wind", "Time Value Error Out")]
    [InlineData("id,time,conc\n1,0,5\n1,2,4\n2,0,6\n2,2,3", "Subject Time Value")]
    [InlineData("site,time,conc\n1,0,5\n1,2,4\n2,0,6\n2,2,3", "Which Time Value")]
    [InlineData(
        "Patient;Hour;Level;Amt;Duration;Age\n1;0;;100;2;40\n1;1;5;;;40\n2;0;;50;1;31\n2;1;7;;;31",
        "Subject Time Value Dose Duration Covariate"
    )]
    public void What_columns_are_is_guessed_from_their_headings_and_cells(string text, string roles) =>
        Assert.Equal(roles, string.Join(' ', ColumnRoles.Guess(CountTable.Read(text))));

    [Theory]
    [InlineData("it is the time", ColumnRole.Value, ColumnRole.Value)]
    [InlineData("it is the time", ColumnRole.Time, ColumnRole.Time)]
    [InlineData("at least one column", ColumnRole.Time, ColumnRole.Out)]
    public void Roles_that_make_no_series_are_refused(string words, params ColumnRole[] roles) =>
        Assert.Contains(
            words,
            Assert.Throws<TableException>(() => ColumnRoles.Series(CountTable.Read("day,cases\n7,5\n14,9"), roles)).Message
        );

    [Theory]
    [InlineData("", "empty")]
    [InlineData("   \n", "empty")]
    [InlineData("a poem about the sea", "does not look like a table")]
    [InlineData("day,cases", "no rows")]
    [InlineData("PK\u0003\u0004,\u0000\u0001", "binary")]
    [InlineData("day,cases\n7,\"5\n14,9", "quotation mark")]
    [InlineData("day,cases\na,b\nc,d", "No row can be used")]
    public void What_is_no_table_is_refused_in_words(string text, string words) =>
        Assert.Contains(words, Assert.Throws<TableException>(() => Map(text)).Message);

    [Fact]
    public void Overlapping_intervals_and_impossible_mappings_are_refused()
    {
        Assert.Contains("overlap", Assert.Throws<TableException>(() => Map("day,cases\n7,5\n8,9", new(0, 1, TimeMark.End, 5))).Message);
        Assert.Contains("same column", Assert.Throws<TableException>(() => Map("day,cases\n7,5", new(0, 0))).Message);
        Assert.Contains("Choose a column", Assert.Throws<TableException>(() => Map("day,cases\n7,5", new(0, 7))).Message);
    }

    [Fact]
    public void Tables_past_the_limits_are_refused()
    {
        Assert.Contains(
            "million characters",
            Assert.Throws<TableException>(() => Map("day,cases\n" + new string('1', CountTable.LongestText))).Message
        );
        Assert.Contains(
            "rows",
            Assert
                .Throws<TableException>(() =>
                    Map("day,cases\n" + string.Concat(Enumerable.Range(0, CountTable.MostRows + 1).Select(k => $"{k},1\n")))
                )
                .Message
        );
    }

    [Theory]
    [InlineData("day,cases\n7,5\n14,x\n21,9", 3)]
    // Without a heading the first line is a row.
    [InlineData("7,5\n14,x\n21,9", 2)]
    // Empty lines are lines of the file too.
    [InlineData("\n\nday,cases\n7,5\n\n\n14,x\n21,9", 7)]
    [InlineData("day,cases\r\n7,5\r\n\r\n14,x\r\n21,9", 4)]
    public void Rows_are_numbered_as_in_the_file(string text, int row) => Assert.Equal(row, Assert.Single(Map(text).Bad).Row);
}
