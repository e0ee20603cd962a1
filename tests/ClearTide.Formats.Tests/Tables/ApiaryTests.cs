using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Studies;
using ClearTide.Formats.Tables;
using NodaTime;

namespace ClearTide.Formats.Tests.Tables;

/// <summary>The frame counts of the Vorrin apiary, clean and as people send them, against the study that holds them and the true values
/// they were made at.</summary>
public class ApiaryTests
{
    private static readonly StudyBundle Study = StudyFile.Read(File.ReadAllText(StudyFileTests.Root("demo/vorrin-apiary.study.json")));

    [Theory]
    [InlineData("demo/vorrin-apiary.csv", 0)]
    [InlineData("demo/vorrin-apiary-as-sent.csv", 3)]
    public void Both_forms_of_the_table_read_to_the_rows_of_the_study(string file, int bad)
    {
        var table = CountTable.Read(File.ReadAllText(StudyFileTests.Root(file)));
        var series = ColumnRoles.Series(table, ColumnRoles.Guess(table));
        Assert.Equal(["frames of bees", "frames of brood"], series.Select(one => one.Heading));
        for (var k = 0; k < 2; k++)
        {
            var mapped = CountMapper.Map(
                table,
                new(0, series[k].Value) { AtOneTime = true, ErrorColumn = series[k].Error },
                new(LocalDate.FromDateOnly(Study.Document.Origin!.Value), Study.Document.TimeUnit)
            );
            Assert.Equal(Study.DataSets[k].Rows, mapped.Rows);
            Assert.Equal(bad, mapped.Bad.Length);
        }
    }

    [Fact]
    public void A_fit_finds_the_values_they_were_made_at()
    {
        var series = Series.Of(Study.Document, Study.DataSets);
        var result = Fitter.Run(Study.Document, series);
        (string Address, double True)[] truth = [("hive.L", 1600), ("hive.m", 0.14), ("hive.H.start", 8000)];
        foreach (var (address, value) in truth)
        {
            var estimate = result.Estimates.Single(one => one.Address == address);
            // Three standard errors: one fixed data set, which lies within them.
            Assert.Equal(value, estimate.Value, 3 * estimate.StandardError);
            Assert.Equal(Knowledge.Known, estimate.Knowledge);
        }
        Assert.Equal(44, result.Means.Length);
        Assert.All(result.Spreads, spread => Assert.Null(spread));
    }
}
