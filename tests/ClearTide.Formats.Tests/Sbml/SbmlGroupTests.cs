using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Formats.Print;
using ClearTide.Formats.Sbml;

namespace ClearTide.Formats.Tests.Sbml;

/// <summary>Groups in SBML: written out member by member, and brought back where nobody has changed the model.</summary>
public class SbmlGroupTests
{
    private static StudyDocument Study() => StudyExportTests.Read("demo/marram-fever-by-age.study.json");

    [Fact]
    public void Members_are_written_out_with_ids_that_say_so_and_run_the_same()
    {
        var text = SbmlWriter.Write(SbmlExport.Of(Study()).Model);
        Assert.Contains("id=\"S_child\"", text, StringComparison.Ordinal);
        Assert.Contains("id=\"H_old\"", text, StringComparison.Ordinal);
        StudyExportTests.RunsTheSame(Study(), 1e-9);
    }

    [Fact]
    public void Groups_come_back_as_they_were()
    {
        var again = SbmlImport.Read(SbmlReader.Read(SbmlWriter.Write(SbmlExport.Of(Study()).Model)), "again");
        Assert.Equal(Study().Groups[0].Members.Select(member => member.Symbol), again.Groups[0].Members.Select(member => member.Symbol));
        Assert.Equal(Study().Splits.Length, again.Splits.Length);
        Assert.Equal(Lowering.Lower(Study()).Network.ValueVector(), Lowering.Lower(again).Network.ValueVector());
        Assert.Empty(again.FileNotes);
    }

    [Fact]
    public void A_model_that_was_changed_since_counts_and_that_is_told()
    {
        var text = SbmlWriter.Write(SbmlExport.Of(Study()).Model);
        // Another layout of the same file says the same.
        var spaced = text.Replace("\n", "\n  ", StringComparison.Ordinal);
        Assert.Single(SbmlImport.Read(SbmlReader.Read(spaced), "spaced").Groups);
        var changed = text.Replace("value=\"0.05\"", "value=\"0.06\"", StringComparison.Ordinal);
        Assert.NotEqual(text, changed);
        var study = SbmlImport.Read(SbmlReader.Read(changed), "changed");
        Assert.Empty(study.Groups);
        Assert.NotNull(study.CompartmentBySymbol("S_child"));
        Assert.Contains(study.FileNotes, note => note.Contains("groups", StringComparison.Ordinal));
    }

    [Fact]
    public void What_stands_in_the_annotation_is_held_against_the_schema()
    {
        var model = SbmlReader.Read(SbmlWriter.Write(SbmlExport.Of(Study()).Model));
        var bad = model with
        {
            Grouped = "{\"format\":\"clear-tide-study\",\"version\":1,\"study\":{\"title\":\"bad\",\"groups\":[{\"id\":\"g\"}]}}",
        };
        Assert.Null(SbmlGroups.Study(bad with { GroupedDigest = SbmlGroups.Digest(bad) }));
    }

    [Fact]
    public void Equations_have_indices_sums_and_the_numbers_of_members()
    {
        var text = Equations.Text(Study());
        Assert.Contains("lambda[age] = q * sum(j in age, C[age, j] * I[j] / N[j])", text, StringComparison.Ordinal);
        Assert.Contains("h[old] = 16%", text, StringComparison.Ordinal);
        Assert.Contains(@"\sum_{j \in \mathrm{age}}", Equations.Latex(Study()), StringComparison.Ordinal);
        var written = Equations.Text(Lowering.Lower(Study()).Document);
        Assert.Contains("h[old] = 16%", written, StringComparison.Ordinal);
        Assert.Contains("I = I[child] + I[adult] + I[old]", written, StringComparison.Ordinal);
    }
}
