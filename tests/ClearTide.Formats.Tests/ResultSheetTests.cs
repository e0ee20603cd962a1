using ClearTide.Formats.Tables;
using MiniExcelLibs;

namespace ClearTide.Formats.Tests;

public class ResultSheetTests
{
    [Fact]
    public void A_workbook_reads_back_with_all_its_digits_and_gaps()
    {
        var bytes = ResultSheet.Write("day", [0, 0.1], [new("S", [1.0 / 3, double.NaN]), new("S", [2, 3e-17]), new("=1+1", [4, -5])]);
        using var stream = new MemoryStream(bytes);
        var rows = stream.Query(useHeaderRow: true).Cast<IDictionary<string, object?>>().ToList();
        Assert.Equal(["day", "S", "S (2)", "=1+1"], rows[0].Keys);
        Assert.Equal(1.0 / 3, Assert.IsType<double>(rows[0]["S"]));
        Assert.Null(rows[1]["S"]);
        Assert.Equal(3e-17, Assert.IsType<double>(rows[1]["S (2)"]));
        Assert.Equal(-5.0, rows[1]["=1+1"]);
    }

    [Fact]
    public void A_table_with_words_becomes_a_workbook_with_numbers_as_numbers()
    {
        using var stream = new MemoryStream(ResultSheet.OfCsv("scenario,value\n\"Pause, long\",0.1\nBaseline,\n1e400,12"));
        var rows = stream.Query(useHeaderRow: true).Cast<IDictionary<string, object?>>().ToList();
        Assert.Equal(["scenario", "value"], rows[0].Keys);
        Assert.Equal("Pause, long", rows[0]["scenario"]);
        Assert.Equal(0.1, Assert.IsType<double>(rows[0]["value"]));
        Assert.Null(rows[1]["value"]);
        // What no cell can hold as a number stays as it was written.
        Assert.Equal("1e400", rows[2]["scenario"]);
    }
}
