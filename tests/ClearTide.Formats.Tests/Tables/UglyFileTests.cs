using System.Text.Json;
using ClearTide.Core.Language;
using ClearTide.Formats.Tables;
using NodaTime.Text;

namespace ClearTide.Formats.Tests;

/// <summary>
/// Files of many separators, encodings, forms of dates and numbers, with titles, sums, notes and gaps, each read as it looks to the rows
/// that a script of its own says they must come to (<c>Ugly/make.mjs</c>).
/// </summary>
public class UglyFileTests
{
    private static readonly string Folder = StudyFileTests.Root("tests/ClearTide.Formats.Tests/Tables/Ugly");

    private static readonly IReadOnlyList<Expected> All = JsonSerializer.Deserialize<List<Expected>>(
        File.ReadAllText(Path.Combine(Folder, "expected.json")),
        JsonSerializerOptions.Web
    )!;

    public sealed record Expected(string File, string Spec, string? Origin, List<ExpectedSeries> Series, List<int> Bad);

    public sealed record ExpectedSeries(string Heading, bool Standing, bool Totals, List<ExpectedRow> Rows);

    public sealed record ExpectedRow(double[] Span, double Value, double? Error, bool Below, double? OutOf);

    public static readonly TheoryData<string> Files = [.. All.Select(one => one.File)];

    [Fact]
    public void There_are_at_least_forty() => Assert.True(All.Count >= 40);

    [Theory]
    [MemberData(nameof(Files))]
    public void It_comes_to_the_rows_that_it_was_written_from(string file)
    {
        var expected = All.Single(one => one.File == file);
        var table = CountTable.Read(TableText.Read(File.ReadAllBytes(Path.Combine(Folder, file))));
        var roles = ColumnRoles.Guess(table);
        var series = ColumnRoles.Series(table, roles);
        Assert.Equal(expected.Series.Select(one => one.Heading).Order(), series.Select(one => one.Heading).Order());
        var bad = new SortedSet<int>();
        foreach (var one in expected.Series)
        {
            var found = series.Single(other => other.Heading == one.Heading);
            var mapped = CountMapper.Map(
                table,
                found.Mapping(roles) with
                {
                    AtOneTime = one.Standing,
                    RunningTotals = one.Totals,
                },
                new(null, TimeUnit.Day)
            );
            Assert.Equal(expected.Origin, mapped.Origin is { } origin ? LocalDatePattern.Iso.Format(origin) : null);
            Assert.Equal(one.Rows.Count, mapped.Rows.Length);
            foreach (var (wanted, row) in one.Rows.Zip(mapped.Rows))
            {
                // Times are sums of whole days, values what the digits say: nothing is rounded but by the last bit of a quotient.
                Assert.Equal(wanted.Span[0], row.Start, 1e-12);
                Assert.Equal(wanted.Span[1], row.End, 1e-12);
                Assert.Equal(wanted.Value, row.Value, 1e-15 * Math.Abs(wanted.Value));
                Assert.Equal((wanted.Error, wanted.Below, wanted.OutOf), (row.Error, row.Below, row.OutOf));
            }
            bad.UnionWith(mapped.Bad.Select(row => row.Row));
        }
        Assert.Equal(expected.Bad, bad);
    }
}
