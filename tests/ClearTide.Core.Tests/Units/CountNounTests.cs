using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Units;

namespace ClearTide.Core.Tests.Units;

/// <summary>
/// Nouns for what is counted: what a study says they are, how they meet, and how they differ from misspelled units of time.
/// </summary>
public class CountNounTests
{
    private static IReadOnlyList<Finding> Of(StudyDocument document) => Lowering.Lower(document).Findings;

    [Fact]
    public void A_study_may_say_what_a_colony_is()
    {
        var document = Studies.Of("unit colony = 15 cells; C(0) = 2 colonies; C -> at 0.1 per day");
        // Two colonies of fifteen cells are thirty of what is computed in.
        Assert.Equal(30, StudyRun.Of(document).Run!.Amount(0, 0));
        Assert.Equal("cells", Lowering.Lower(document).Units.Of(document.Compartments[0].Id).Unit!.Text());
        Assert.Empty(Of(document));
    }

    [Fact]
    public void A_day_means_the_same_in_every_study()
    {
        var refused = new SetUnit("day", "20 hours").Apply(Studies.Of("A(0) = 1")).Refusal;
        Assert.Contains("same in every study", refused);
        Assert.Contains("“cell”", new SetUnit("cell", "3 cells").Apply(Studies.Of("A(0) = 1")).Refusal);
    }

    [Fact]
    public void Births_against_cells_are_repaired_by_saying_that_they_are_the_same()
    {
        var document = Studies.Of("unit birth; C(0) = 100 cells; -> C : 20 births per day");
        var finding = Assert.Single(Of(document), finding => finding.Message.Contains("births"));
        var fix = Assert.Single(finding.Fixes);
        Assert.Equal("1 birth is 1 cell", fix.Label);
        Assert.Empty(Of(fix.Edit.Apply(document).Document!));
    }

    [Fact]
    public void Of_two_nouns_of_the_study_the_later_one_is_said_by_the_earlier()
    {
        var document = Studies.Of("unit egg; unit gull; G(0) = 10 gulls; -> G : 3 eggs per day");
        var finding = Assert.Single(Of(document), finding => finding.Message.Contains("eggs"));
        Assert.Empty(Of(Assert.Single(finding.Fixes).Edit.Apply(document).Document!));
    }

    [Fact]
    public void What_is_not_checked_does_not_agree()
    {
        var document = Studies.Of("A(0) = 100 cells; k = 2; x = 3; A -> : k * A; A -> at 0.1 per day; B(0) = 1; B -> at m; m = 0.2");
        var units = Lowering.Lower(document).Units;
        Assert.True(units.Of(document.CompartmentBySymbol("A")!.Id).Agrees);
        Assert.Null(units.Of(document.DefinitionBySymbol("x")!.Id).Agrees);
        Assert.True(units.Of(document.Flows[1].Id).Agrees);
        Assert.Equal("1/day", units.Of(document.Flows[1].Id).Unit!.Text());
        // Nothing is said anywhere: nothing is checked.
        var silent = Studies.Of("A(0) = 1; A -> at k; k = 2");
        Assert.All(Lowering.Lower(silent).Units.Parts.Values, part => Assert.Null(part.Agrees));
        Assert.False(Lowering.Lower(Studies.Of("A(0) = 100 cells; A -> : 3 cells")).Units.Parts.Values.Last().Agrees);
    }

    [Fact]
    public void Moths_are_no_months()
    {
        var plain = Studies.Of("A(0) = 1");
        var amount = Assert.Single(Of(new SetField(plain.Compartments[0].Id, PartField.Start, "40 moths").Apply(plain).Document!));
        Assert.DoesNotContain("month", amount.Message);
        Assert.All(amount.Fixes, fix => Assert.DoesNotContain("month", fix.Label));
        var refused = new AddLines("A(0) = 40 moths").Apply(new StudyDocument { Title = "Moths" });
        Assert.DoesNotContain("Did you mean", refused.Refusal);
        Assert.Equal("Add moths as a unit", refused.Fixes![0].Label);
        // A stay that is misspelled may still be one.
        var stay = new AddLines("A -> B after 3 monhts").Apply(new StudyDocument { Title = "Stay" });
        Assert.Contains(stay.Fixes!, fix => fix.Label.Contains("months"));
        Assert.Contains(UnitTable.Of(TimeUnit.Day).Nearest("monhts")!, (string[])["months", "month"]);
    }
}
