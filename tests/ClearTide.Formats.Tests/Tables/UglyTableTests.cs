using ClearTide.Core.Language;
using ClearTide.Formats.Tables;
using MiniExcelLibs;
using NodaTime;

namespace ClearTide.Formats.Tests;

/// <summary>Tables as people send them, each with the rows that it must come to.</summary>
public class UglyTableTests
{
    private static MappedCounts Map(string text, CountMapping? mapping = null, TimeUnit? unit = null, LocalDate? origin = null) =>
        CountMapper.Map(CountTable.Read(text), mapping ?? new(0, 1), new(origin, unit ?? TimeUnit.Day));

    private static string Said(MappedCounts mapped) =>
        string.Join("; ", mapped.Rows.Select(row => FormattableString.Invariant($"{row.Start:0.##}-{row.End:0.##} {row.Value}")));

    [Theory]
    // Dates mark the end of a week; time zero is where the first week begins.
    [InlineData("week ending,cases\n2026-02-03,5\n2026-02-10,9", "0-7 5; 7-14 9")]
    [InlineData("week ending;cases\n03.02.2026;5\n10.02.2026;9\n17.02.2026;12", "0-7 5; 7-14 9; 14-21 12")]
    [InlineData("date\tcases\n3 Feb 2026\t5\n10 Feb 2026\t9", "0-7 5; 7-14 9")]
    [InlineData("date,cases\n2/3/2026,5\n2/17/2026,9", "0-14 5; 14-28 9")]
    // Weeks, months and years say themselves where they begin and end.
    [InlineData("week,cases\n2026-W06,5\n2026-W07,9\n2026-W09,4", "0-7 5; 7-14 9; 21-28 4")]
    [InlineData("month,cases\n2026-01,5\n2026-02,9\n2026-03,4", "0-31 5; 31-59 9; 59-90 4")]
    [InlineData("year,cases\n2026,5\n2027,9", "0-365 5; 365-730 9")]
    // Titles above, a total below, notes under the table, empty lines between.
    [InlineData("Marram fever in Tesk\nreported weekly\n\nday,cases\n7,5\n14,9\n\ntotal,14\nsource: the clinic", "0-7 5; 7-14 9")]
    [InlineData("Marram fever,,\n,,\nday,cases,remark\n7,5,\n14,9,late", "0-7 5; 7-14 9")]
    // Numbers of many forms.
    [InlineData("day;cases\n7;1.250\n14;2.000\n21;10.500", "0-7 1250; 7-14 2000; 14-21 10500")]
    [InlineData("day\tcases\n7\t1 250\n14\t2 000", "0-7 1250; 7-14 2000")]
    [InlineData("day,cases\n7,\"1,250\"\n14,\"2,000\"", "0-7 1250; 7-14 2000")]
    [InlineData("day;cases\n3,5;5\n7,0;9\n10,5;4", "0-3.5 5; 3.5-7 9; 7-10.5 4")]
    [InlineData("day|cases\n7|5\n14|9", "0-7 5; 7-14 9")]
    [InlineData("week ending;cases\n03.02.2026;1.005\n10.02.2026;2.012\ntotal;3.017", "0-7 1005; 7-14 2012")]
    // What is missing leaves a gap; the next row is as long as the others.
    [InlineData("day,cases\n7,5\n14,NA\n21,9\n28,-\n35,4", "0-7 5; 14-21 9; 28-35 4")]
    // A table without a heading; cells in quotes.
    [InlineData("2026-02-03,5\n2026-02-10,9", "0-7 5; 7-14 9")]
    [InlineData("\"day\",\"cases\"\n\"7\",\"5\"\n\"14\",\"9\"", "0-7 5; 7-14 9")]
    // A comma in a heading does not part columns where semicolons do.
    [InlineData("day, from zero;cases, new\n7;5\n14;9\n21;3", "0-7 5; 7-14 9; 14-21 3")]
    [InlineData("day;cases\r\n7;5\r\n14;9\r\n", "0-7 5; 7-14 9")]
    public void It_comes_to_these_rows(string text, string rows) => Assert.Equal(rows, Said(Map(text)));

    [Fact]
    public void Dates_count_from_the_studys_time_zero()
    {
        var mapped = Map("date,cases\n2026-02-03,5\n2026-02-10,9", origin: new(2026, 1, 1));
        Assert.Equal("26-33 5; 33-40 9", Said(mapped));
        Assert.Equal(new LocalDate(2026, 1, 1), mapped.Origin);
        Assert.Equal("0-1 5; 1-2 9", Said(Map("month,cases\n2026-01,5\n2026-02,9", unit: TimeUnit.Month)));
        Assert.Null(Map("day,cases\n7,5").Origin);
    }

    [Fact]
    public void A_time_may_be_the_middle_and_intervals_may_reach_to_their_neighbours()
    {
        const string Text = "day,cases\n7,5\n14,9\n28,20";
        Assert.Equal("3.5-10.5 5; 10.5-17.5 9; 24.5-31.5 20", Said(Map(Text, new(0, 1, TimeMark.Middle, 7))));
        Assert.Equal("-7-7 5; 7-14 9; 14-28 20", Said(Map(Text, new(0, 1, TimeMark.End, 14, IntervalRule.ToNeighbour))));
        Assert.Equal("7-14 5; 14-28 9; 28-42 20", Said(Map(Text, new(0, 1, TimeMark.Start, 14, IntervalRule.ToNeighbour))));
        Assert.Equal("0-10.5 5; 10.5-21 9; 21-35 20", Said(Map(Text, new(0, 1, TimeMark.Middle, 14, IntervalRule.ToNeighbour))));
    }

    [Fact]
    public void Running_totals_are_offered_and_differenced_and_falls_are_listed()
    {
        const string Text = "day,total cases\n7,5\n14,9\n21,9\n28,30\n35,28\n42,40\n49,41\n56,60";
        Assert.DoesNotContain(Map(Text).Notes, note => note.Contains("running totals", StringComparison.Ordinal));
        Assert.Contains(Map(Text.Replace("35,28", "35,33")).Notes, note => note.Contains("running totals", StringComparison.Ordinal));
        var counts = Map(Text, new(0, 1, RunningTotals: true));
        Assert.Equal("7-14 4; 14-21 0; 21-28 21; 35-42 12; 42-49 1; 49-56 19", Said(counts));
        Assert.Equal([2, 6], counts.Bad.Select(row => row.Row));
        Assert.Contains("falls from 30 to 28", counts.Bad[1].Reason);
    }

    [Fact]
    public void Rows_of_one_time_are_summed_where_that_is_chosen()
    {
        const string Text = "day,cases\n7,5\n7,6\n14,9";
        Assert.Equal("0-7 5; 7-14 9", Said(Map(Text)));
        var summed = Map(Text, new(0, 1, Same: SameTime.Sum));
        Assert.Equal("0-7 11; 7-14 9", Said(summed));
        Assert.Contains(summed.Notes, note => note.StartsWith("1 row was added", StringComparison.Ordinal));
        var each = Map(Text, new(0, 1, Same: SameTime.Each));
        Assert.Equal("0-7 5; 0-7 6; 7-14 9", Said(each));
        Assert.Empty(each.Bad);
        Assert.Equal("0-7 5; 0-7 6; 7-14 9", Said(Map(Text, new(0, 1, Interval: 7, Rule: IntervalRule.ToNeighbour, Same: SameTime.Each))));
        // Running totals have one value at a time.
        Assert.Equal([3], Map(Text, new(0, 1, RunningTotals: true, Same: SameTime.Each)).Bad.Select(row => row.Row).Except([2]));
    }

    [Fact]
    public void What_is_left_out_is_listed_with_what_it_holds()
    {
        var bad = Map("date,cases\n2026-02-03,5\n2026-02-31,7\n2026-02-10,9\ntotal,21").Bad;
        Assert.Equal([(3, "2026-02-31 · 7"), (5, "total · 21")], bad.Select(row => (row.Row, row.Content)));
        Assert.Contains("not a date", bad[0].Reason);
    }

    [Fact]
    public void A_workbook_is_read_from_its_first_sheet_that_holds_anything()
    {
        using var stream = new MemoryStream();
        stream.SaveAs(
            new Dictionary<string, object>
            {
                ["notes"] = Array.Empty<object>(),
                ["counts"] = new[]
                {
                    new { week = new DateTime(2026, 2, 3), cases = 5.0 },
                    new { week = new DateTime(2026, 2, 10), cases = 1250.0 },
                },
            }
        );
        Assert.Equal("0-7 5; 7-14 1250", Said(Map(TableText.Read(stream.ToArray()))));
        Assert.Contains(
            "workbook cannot be read",
            Assert.Throws<TableException>(() => TableText.Read([(byte)'P', (byte)'K', 3, 4, 0, 1, 2])).Message
        );
    }

    [Fact]
    public void Of_a_workbook_of_several_sheets_any_can_be_read()
    {
        using var stream = new MemoryStream();
        stream.SaveAs(
            new Dictionary<string, object>
            {
                ["cases"] = new[] { new { day = 7.0, cases = 5.0 } },
                ["empty"] = Array.Empty<object>(),
                ["deaths"] = new[] { new { day = 7.0, deaths = 1.0 } },
            }
        );
        TableSheet Read(string? asked) => TableSheet.Read(new MemoryStream(stream.ToArray()), asked);
        Assert.Equal(["cases", "empty", "deaths"], Read(null).Names);
        Assert.Equal(("cases", "day\tcases\n7\t5\n"), (Read(null).Name, Read(null).Text));
        Assert.Equal(("deaths", "day\tdeaths\n7\t1\n"), (Read("deaths").Name, Read("deaths").Text));
        Assert.Equal("cases", Read("gone").Name);
        Assert.Contains("“empty” holds nothing", Assert.Throws<TableException>(() => Read("empty")).Message);
    }

    [Fact]
    public void A_small_file_that_unpacks_to_much_is_refused()
    {
        using var stream = new MemoryStream();
        using (var archive = new System.IO.Compression.ZipArchive(stream, System.IO.Compression.ZipArchiveMode.Create, leaveOpen: true))
        {
            using var part = archive.CreateEntry("xl/sharedStrings.xml").Open();
            var zeros = new byte[1_000_000];
            for (var k = 0; k < 210; k++)
                part.Write(zeros);
        }
        Assert.True(stream.Length < 1_000_000);
        Assert.Contains("more than 200 MB", Assert.Throws<TableException>(() => TableText.Read(stream.ToArray())).Message);
    }

    [Fact]
    public void Old_and_wide_encodings_are_read()
    {
        const string Text = "Tag;Fälle\n7;5\n14;9";
        foreach (
            var encoding in new[]
            {
                System.Text.Encoding.UTF8,
                System.Text.Encoding.Latin1,
                System.Text.Encoding.Unicode,
                System.Text.Encoding.BigEndianUnicode,
            }
        )
        {
            var bytes = encoding.GetPreamble().Concat(encoding.GetBytes(Text)).ToArray();
            Assert.Equal("Fälle", CountTable.Read(TableText.Read(bytes)).Columns[1]);
        }
    }
}
