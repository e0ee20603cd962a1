using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Studies;
using ClearTide.Formats.Tables;

namespace ClearTide.Formats.Tests.Tables;

/// <summary>The concentrations of twelve volunteers, clean and as people send them, against the study that holds them and the values they
/// were made at.</summary>
public class BrennaloTests
{
    private static readonly StudyBundle Study = StudyFile.Read(File.ReadAllText(StudyFileTests.Root("demo/brennalo.study.json")));

    [Theory]
    [InlineData("demo/brennalo.csv", 0)]
    [InlineData("demo/brennalo-as-sent.csv", 2)]
    public void Both_forms_of_the_table_read_to_the_rows_and_subjects_of_the_study(string file, int bad)
    {
        var table = CountTable.Read(File.ReadAllText(StudyFileTests.Root(file)));
        var roles = ColumnRoles.Guess(table);
        Assert.Equal([ColumnRole.Subject, ColumnRole.Time, ColumnRole.Value, ColumnRole.Dose, ColumnRole.Covariate], roles.Take(5));
        var series = Assert.Single(ColumnRoles.Series(table, roles));
        var mapped = CountMapper.Map(
            table,
            new(1, series.Value) { AtOneTime = true, Subjects = ColumnRoles.Subjects(table, roles, ["weight", "ka"]) },
            new(null, TimeUnit.Hour)
        );
        Assert.Equal(bad, mapped.Bad.Length);
        Assert.Equal(Study.DataSets[0].Rows, mapped.Rows);
        Assert.Equal(12, mapped.Subjects.Length);
        foreach (var (expected, read) in Study.DataSets[0].Subjects.Zip(mapped.Subjects))
        {
            Assert.Equal(expected.Name, read.Name);
            Assert.Equal(expected.Doses, read.Doses);
            Assert.Equal(expected.Covariates["weight"], read.Covariates["weight"]);
        }
    }

    [Fact]
    public void The_model_has_no_finding_and_pooled_and_own_values_are_near_those_they_were_made_at()
    {
        Assert.DoesNotContain(Lowering.Lower(Study.Document).Findings, finding =>
            finding.Severity != Severity.Doubt || finding.Message.Contains("unit")
        );
        var series = Series.Of(Study.Document, Study.DataSets);
        var pooled = Fitter.Run(Study.Document, series);
        // Twelve people with these spreads: the typical value is known to a factor of exp(2 × spread of the log / √12).
        (string Address, double True, double Within)[] truth = [("ka", 0.6, 0.3), ("CL70", 3.15, 0.17), ("V70", 60, 0.12)];
        foreach (var (address, value, within) in truth)
            Assert.Equal(0, Math.Log(pooled.Estimates.Single(one => one.Address == address).Value / value), within);
        // Beside the error of a sample, 0.1, the pooled curve misses what differs between people.
        Assert.InRange(pooled.Spreads[0]!.Value.Main, 0.12, 0.4);
        var setup = Study.Document.Fit;
        var own = Fitter.Run(
            Study.Document with
            {
                Fit = setup with { Parameters = [.. setup.Parameters.Select(one => one with { Own = true })], Starts = 2 },
            },
            series
        );
        Assert.Empty(own.Estimates);
        Assert.Equal(12, own.Detail!.Subjects.Length);
        // 144 residuals about 36 values: the error itself, 0.1, less what the values take up, to three standard errors of 6 % each.
        Assert.InRange(own.Spreads[0]!.Value.Main, 0.07, 0.115);
        var spreads = SubjectSpread.Of(["ka", "CL70", "V70"], own.Detail.Subjects);
        foreach (var (spread, (_, value, within)) in spreads.Zip(truth))
            Assert.Equal(0, Math.Log(spread.Typical / value), within);
        // Drawn with 45, 24 and 15 %; of twelve a spread is known to a fifth, three times over.
        Assert.All(spreads.Zip([0.45, 0.24, 0.15]), pair => Assert.InRange(pair.First.Spread, 0.4 * pair.Second, 1.7 * pair.Second));
    }
}
