using System.Text;
using ClearTide.Formats.Tables;

namespace ClearTide.Formats.Tests;

/// <summary>What is said of how a table is read, in the place of what it looks like.</summary>
public class HowReadTests
{
    private const string Two =
        "Tesk,,,Brin,,\n,,,,,\nday,cases,,day,cases,note\n7,5,,7,50,calm\n14,9,,14,90,wind\n21,4,,21,40,calm\nsum,18,,sum,180,";

    private static CountTable Read(string text, string? cells = null, int? heading = null, string missing = "", char? separator = null) =>
        CountTable.Read(text, new(separator, heading, CellRange.Read(cells), missing));

    private static string Said(CountTable table) => string.Join("; ", table.Rows.Select(row => string.Join(' ', row)));

    [Theory]
    [InlineData("D3:E6", "day,cases", "7 50; 14 90; 21 40")]
    [InlineData("$D$3:$E$5", "day,cases", "7 50; 14 90")]
    [InlineData("e6:d3", "day,cases", "7 50; 14 90; 21 40")]
    [InlineData("D:E", "day,cases", "7 50; 14 90; 21 40; sum 180")]
    [InlineData("D4:F6", "column 1,column 2,column 3", "7 50 calm; 14 90 wind; 21 40 calm")]
    [InlineData("A3:B", "day,cases", "7 5; 14 9; 21 4; sum 18")]
    [InlineData("D5", "column 1,column 2,column 3", "14 90 wind; 21 40 calm; sum 180 ")]
    [InlineData("3:5", "day,cases,column 3,day,cases,note", "7 5  7 50 calm; 14 9  14 90 wind")]
    public void A_block_of_cells_is_the_table(string cells, string headings, string rows)
    {
        var table = Read(Two, cells, cells is "D4:F6" or "D5" ? 0 : null);
        Assert.Equal(headings, string.Join(',', table.Columns));
        Assert.Equal(rows, Said(table));
    }

    [Fact]
    public void Rows_keep_their_numbers_in_the_file()
    {
        var table = Read(Two, "D3:E6");
        Assert.Equal([4, 5, 6], table.Lines);
        Assert.Equal((3, "day · cases"), (table.Heading, table.First[0].Content));
        Assert.Equal(3, table.First[0].Row);
    }

    [Theory]
    [InlineData("B3-F40")]
    [InlineData("B0:C2")]
    [InlineData("ABCD1")]
    [InlineData(":")]
    [InlineData("A1:B2:C3")]
    public void What_is_no_block_is_refused_in_words(string cells) =>
        Assert.Contains("is no block of cells", Assert.Throws<TableException>(() => CellRange.Read(cells)).Message);

    [Fact]
    public void A_block_that_holds_nothing_says_where_the_table_is() =>
        Assert.Contains(
            "rows 1 to 7 and columns A to F",
            Assert.Throws<TableException>(() => Read(Two, "H1:K9")).Message,
            StringComparison.Ordinal
        );

    [Fact]
    public void Nothing_typed_is_the_whole_table() => Assert.Null(CellRange.Read("  "));

    [Theory]
    [InlineData(0, "A")]
    [InlineData(25, "Z")]
    [InlineData(26, "AA")]
    [InlineData(701, "ZZ")]
    [InlineData(702, "AAA")]
    public void Columns_have_the_letters_that_are_read(int place, string letters)
    {
        Assert.Equal(letters, CellRange.Letters(place));
        Assert.Equal(place, CellRange.Read(letters + "1")!.FirstColumn);
    }

    [Fact]
    public void The_row_of_headings_can_be_said()
    {
        // Two rows of headings: the upper one looks like the heading.
        const string Text = "when,how many\nday,cases\n7,5\n14,9";
        Assert.Equal(["when", "how many"], Read(Text).Columns);
        var said = Read(Text, heading: 2);
        Assert.Equal(["day", "cases"], said.Columns);
        Assert.Equal(["when how many"], said.Above);
        Assert.Equal("7 5; 14 9", Said(said));
        // Headings that are years look like values.
        const string Years = "2026,2027\n7,5\n14,9";
        Assert.Equal(["column 1", "column 2"], Read(Years).Columns);
        Assert.Equal(["2026", "2027"], Read(Years, heading: 1).Columns);
        var none = Read("a,b\n7,5", heading: 0);
        Assert.Equal(("column 1", 0, "a b; 7 5"), (none.Columns[0], none.Heading, Said(none)));
        Assert.Contains("Row 9", Assert.Throws<TableException>(() => Read(Text, heading: 9)).Message);
    }

    [Fact]
    public void What_is_said_to_be_missing_is_no_value()
    {
        const string Text = "day,cases\n7,5\n14,-99\n21,nil\n28,4";
        var mapped = CountMapper.Map(Read(Text, missing: "-99  NIL"), new(0, 1), new(null, ClearTide.Core.Language.TimeUnit.Day));
        Assert.Equal([5, 4], mapped.Rows.Select(row => row.Value));
        Assert.Equal([(3, "the count is missing"), (4, "the count is missing")], mapped.Bad.Select(row => (row.Row, row.Reason)));
    }

    public static readonly TheoryData<string> Encodings = [.. TextEncoding.Known];

    [Theory]
    [MemberData(nameof(Encodings))]
    public void A_file_is_read_in_each_encoding_that_is_offered(string name)
    {
        // A word that the encoding has letters for.
        var word = name switch
        {
            "windows-1251" => "случаи",
            "windows-1253" => "κρούσματα",
            "shift_jis" => "件数",
            "GB18030" => "病例",
            "windows-1250" => "případy",
            "windows-1254" => "yeniağ",
            _ => "Fälle",
        };
        var encoding = name switch
        {
            "utf-8" => Encoding.UTF8,
            "utf-16" => Encoding.Unicode,
            "utf-16BE" => Encoding.BigEndianUnicode,
            _ => CodePagesEncodingProvider.Instance.GetEncoding(name)!,
        };
        var bytes = encoding.GetBytes($"day;{word}\n7;5\n14;9\n");
        Assert.True(TextEncoding.Matters(bytes));
        Assert.Equal(word, CountTable.Read(TextEncoding.Decode(bytes, name)).Columns[1]);
        // Two bytes a character show themselves without a mark as well.
        if (name.StartsWith("utf", StringComparison.Ordinal))
            Assert.Equal(name, TextEncoding.Guess(bytes));
    }

    [Fact]
    public void Plain_letters_read_alike_in_any_encoding()
    {
        Assert.False(TextEncoding.Matters("day,cases\n7,5"u8));
        Assert.Contains("no encoding", Assert.Throws<TableException>(() => TextEncoding.Decode([65], "utf-7")).Message);
    }

    [Fact]
    public void Each_row_of_a_sheet_has_its_number()
    {
        using var stream = new MemoryStream();
        MiniExcelLibs.MiniExcel.SaveAs(
            stream,
            new[]
            {
                new Dictionary<string, object?>
                {
                    ["a"] = "Tesk",
                    ["b"] = null,
                    ["c"] = null,
                },
                new Dictionary<string, object?>
                {
                    ["a"] = null,
                    ["b"] = null,
                    ["c"] = null,
                },
                new Dictionary<string, object?>
                {
                    ["a"] = null,
                    ["b"] = "day",
                    ["c"] = "cases",
                },
                new Dictionary<string, object?>
                {
                    ["a"] = null,
                    ["b"] = 7,
                    ["c"] = 5,
                },
                new Dictionary<string, object?>
                {
                    ["a"] = null,
                    ["b"] = 14,
                    ["c"] = 9,
                },
            },
            printHeader: false
        );
        var table = Read(TableText.Read(stream.ToArray()), "B3:C4");
        Assert.Equal("day,cases", string.Join(',', table.Columns));
        Assert.Equal("7 5", Said(table));
    }
}
