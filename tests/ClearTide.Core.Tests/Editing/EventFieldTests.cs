using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Editing;

/// <summary>What an event says beyond its line, worked by hand.</summary>
public class EventFieldTests
{
    private static StudyDocument With(string lines, params (int Event, PartField Field, string Value)[] fields)
    {
        var study = Studies.Of(lines, 10);
        foreach (var (which, field, value) in fields)
            study = new SetField(study.Events[which].Id, field, value).Apply(study).Document!;
        return study;
    }

    private static double End(StudyDocument study, int compartment = 0)
    {
        var run = StudyRun.Of(study);
        Assert.Null(run.Failure);
        return run.Run!.AmountColumn(compartment)[^1];
    }

    private const string Two = "A(0) = 1; at 2: A = A + 10; at 2: A = A * 3";

    [Fact]
    public void The_highest_goes_first_and_the_ledger_decides_else()
    {
        Assert.Equal(33, End(With(Two)));
        Assert.Equal(13, End(With(Two, (1, PartField.Priority, "5"))));
        Assert.Equal(33, End(With(Two, (0, PartField.Priority, "A + 7"), (1, PartField.Priority, "5"))));
    }

    [Fact]
    public void Actions_made_at_once_do_not_see_each_other()
    {
        const string swap = "A(0) = 1; B(0) = 2; at 3: A = B, B = A";
        Assert.Equal((2, 2), (End(With(swap)), End(With(swap), 1)));
        var together = With(swap, (0, PartField.Together, "true"));
        Assert.Equal((2, 1), (End(together), End(together, 1)));
    }

    [Fact]
    public void Later_actions_use_what_was_at_the_trigger_where_they_are_told_to()
    {
        const string late = "A(0) = 0; B(0) = 0; -> A : 1; at 2: B = A after 3";
        Assert.Equal(5, End(With(late), 1), 1e-9);
        Assert.Equal(2, End(With(late, (0, PartField.ValuesAtTrigger, "true")), 1), 1e-9);
    }

    [Fact]
    public void A_condition_true_at_the_start_acts_where_it_is_told_to()
    {
        const string begun = "A(0) = 5; when A > 3: A = 1";
        Assert.Equal(5, End(With(begun)));
        Assert.Equal(1, End(With(begun, (0, PartField.ActsAtStart, "true"))));
    }

    [Fact]
    public void An_action_to_come_is_dropped_when_its_condition_ends_where_it_is_told_to()
    {
        // True from 2 to 3; the action is due at 4.
        const string brief = "A(0) = 0; B(0) = 0; -> A : 1; when A > 2 and A < 3: B = 7 after 2";
        Assert.Equal(7, End(With(brief), 1));
        Assert.Equal(0, End(With(brief, (0, PartField.DroppedWhenFalse, "true")), 1));
    }

    [Fact]
    public void They_belong_to_what_a_run_is_known_by_and_follow_renames()
    {
        var study = With(Two, (1, PartField.Priority, "A * 2"));
        Assert.NotEqual(Fingerprints.OfRun(With(Two)), Fingerprints.OfRun(study));
        var renamed = new SetField(study.Compartments[0].Id, PartField.Symbol, "stock").Apply(study).Document!;
        Assert.Equal("stock * 2", renamed.Events[1].Priority);
        Assert.Contains(Lowering.Lower(With(Two, (1, PartField.Priority, "2 +"))).Findings, finding => finding.Field == PartField.Priority);
    }

    [Fact]
    public void Notes_of_an_imported_file_are_findings_until_they_are_read()
    {
        var study = Studies.Of("A(0) = 1", 10) with { FileNotes = ["One thing.", "Another."] };
        var finding = Lowering.Lower(study).Findings.First();
        Assert.Equal((null, "One thing."), (finding.PartId, finding.Message));
        var read = finding.Fixes[0].Edit.Apply(study).Document!;
        Assert.Equal(["Another."], read.FileNotes);
        Assert.NotNull(finding.Fixes[0].Edit.Apply(read).Refusal);
    }
}
