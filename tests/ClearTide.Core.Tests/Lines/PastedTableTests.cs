using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Units;

namespace ClearTide.Core.Tests.Lines;

public class PastedTableTests
{
    private static PastedTable Read(string text) => PastedTable.Read(text, UnitTable.Of(TimeUnit.Day));

    [Theory]
    [InlineData("0 5\n30 8\n60 2")]
    [InlineData("0\t5\n30\t8\n60\t2")]
    [InlineData("0;5\r\n30;8\r\n60;2\r\n")]
    [InlineData("0,5\n30,8\n60,2\n\n")]
    [InlineData("\"0\",\"5\"\n\"30\",\"8\"\n\"60\",\"2\"")]
    [InlineData("0 5, 30 8, 60 2")]
    [InlineData("0 5; 30 8; 60 2")]
    public void Two_columns_are_read_however_they_are_parted(string text)
    {
        var table = Read(text);
        Assert.Null(table.Problem);
        Assert.Equal([new CurvePoint(0, 5), new(30, 8), new(60, 2)], table.Points);
    }

    [Theory]
    [InlineData("day,Vaccinated (people)\n0,5\n30,8", "Vaccinated", "people")]
    [InlineData("day,Dose [mg/L]\n0,5\n30,8", "Dose", "mg/L")]
    [InlineData("day,Rain (a lot)\n0,5\n30,8", "Rain (a lot)", null)]
    [InlineData("\uFEFFday,Rain\n0,5\n30,8", "Rain", null)]
    public void A_heading_gives_label_and_unit(string text, string label, string? unit)
    {
        var table = Read(text);
        Assert.Null(table.Problem);
        Assert.Equal((label, unit), (table.Label, table.Unit));
        Assert.Equal(2, table.Points.Length);
    }

    [Theory]
    [InlineData("0 5\n30 many", "Line 2")]
    [InlineData("0 5\n30 8 9", "Line 2")]
    [InlineData("0 5\nday,cases\n30 8", "Line 2")]
    [InlineData("30 5\n0 8", "ascending order")]
    [InlineData("0 5\n0 8", "stands twice")]
    [InlineData("", "at least one point")]
    public void What_is_wrong_first_is_told_with_its_line(string text, string words)
    {
        var table = Read(text);
        Assert.Contains(words, table.Problem);
        Assert.Empty(table.Points);
    }

    [Fact]
    public void Signs_of_print_are_read_as_numbers() =>
        Assert.Equal([new CurvePoint(0, -5), new(30, 18400)], Read("0\t−5\n30\t18\u2009400").Points);
}
