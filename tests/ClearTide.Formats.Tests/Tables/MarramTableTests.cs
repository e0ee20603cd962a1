using ClearTide.Core.Language;
using ClearTide.Formats.Studies;
using ClearTide.Formats.Tables;
using NodaTime;

namespace ClearTide.Formats.Tests.Tables;

/// <summary>The weekly cases of Marram fever, clean and as people send them, against the study that holds them.</summary>
public class MarramTableTests
{
    private static readonly StudyBundle Study = StudyFile.Read(File.ReadAllText(StudyFileTests.Root("demo/marram-fever.study.json")));

    [Theory]
    [InlineData("demo/marram-fever-cases.csv", 0)]
    // The first total has nothing before it; below the table stand a count to come, a sum and a note.
    [InlineData("demo/marram-fever-cases-as-sent.csv", 4)]
    public void Both_forms_of_the_table_read_to_the_rows_of_the_study(string file, int bad)
    {
        var table = CountTable.Read(File.ReadAllText(StudyFileTests.Root(file)));
        var roles = ColumnRoles.Guess(table);
        var series = Assert.Single(ColumnRoles.Series(table, roles));
        var mapped = CountMapper.Map(
            table,
            new(roles.IndexOf(ColumnRole.Time), series.Value) { RunningTotals = bad > 0 },
            new(null, TimeUnit.Day)
        );
        Assert.Equal(
            Study.DataSets[0].Rows.Select(row => (row.Start, row.End, row.Value)),
            mapped.Rows.Select(row => (row.Start, row.End, row.Value))
        );
        Assert.Equal(bad, mapped.Bad.Length);
        Assert.Equal(bad > 0 ? new LocalDate(2031, 3, 3) : null, mapped.Origin);
    }
}
