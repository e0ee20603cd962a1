using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Editing;

public class PaperEditTests
{
    private static string Id(StudyDocument document, string symbol) => document.CompartmentBySymbol(symbol)!.Id;

    [Theory]
    [InlineData("S", "S", "S")]
    [InlineData("Susceptible", "S2", "Susceptible")] // S is taken, as are the initials, which are S too; two letters come first
    [InlineData("In clinic", "I", "In clinic")]
    [InlineData("at", "A", "at")] // a word of the language becomes a label
    public void A_plate_gets_a_symbol_from_its_name(string name, string symbol, string label)
    {
        var document = name == "Susceptible" ? Studies.Of("S(0) = 1; Su(0) = 1; Sus(0) = 1") : new StudyDocument { Title = "T" };
        var made = Studies.With(document, new AddPlate(name, 10.4, 20.6)).Compartments[^1];
        Assert.Equal((symbol, label, 10, 21), (made.Symbol, made.Label, made.X, made.Y));
    }

    [Theory]
    [InlineData("")]
    [InlineData("   ")]
    [InlineData("???")]
    [InlineData("A")]
    public void A_plate_without_a_name_that_can_be_used_is_refused(string name) =>
        Assert.NotNull(new AddPlate(name, 0, 0).Apply(Studies.Of("A(0) = 1")).Refusal);

    [Fact]
    public void A_drawn_flow_waits_for_its_rate()
    {
        var document = Studies.With(Studies.Of("A(0) = 1; B(0) = 2"), new DrawFlow("c1", "c2"));
        Assert.Contains(Lowering.Lower(document).Findings, finding =>
            finding.PartId == document.Flows[0].Id && finding.Severity == Severity.Unfinished && finding.Message.Contains("no rate yet")
        );
        document = Studies.With(document, new SetField(document.Flows[0].Id, PartField.Rate, "after 3 days"));
        Assert.Empty(Lowering.Lower(document).Findings);
    }

    [Theory]
    [InlineData(null, null)]
    [InlineData("c1", "c1")]
    [InlineData("c1", "c99")]
    public void A_flow_that_is_none_is_refused(string? from, string? to) =>
        Assert.NotNull(new DrawFlow(from, to).Apply(Studies.Of("A(0) = 1")).Refusal);

    [Fact]
    public void An_open_end_is_kept_only_where_there_is_one()
    {
        var document = Studies.Of("A(0) = 1; B(0) = 2");
        Assert.Equal(new Offset(-80, 30), Studies.With(document, new DrawFlow(null, "c1", new(-80.2, 30.4))).Flows[0].Open);
        Assert.Null(Studies.With(document, new DrawFlow("c1", "c2", new(5, 5))).Flows[0].Open);
        Assert.Null(Studies.With(document, new DrawFlow(null, "c1", new(double.NaN, 5))).Flows[0].Open);
    }

    [Fact]
    public void A_compartment_is_in_one_region_at_most_and_an_empty_region_is_gone()
    {
        var document = Studies.Of("A -> B at 1; C(0) = 1");
        document = Studies.With(document, new AddRegion("North", [Id(document, "A"), Id(document, "B")]));
        document = Studies.With(document, new AddRegion("South", [Id(document, "B"), Id(document, "C")]));
        Assert.Equal(
            [
                [Id(document, "A")],
                [Id(document, "B"), Id(document, "C")],
            ],
            document.Regions.Select(region => region.Members.ToArray())
        );
        document = Studies.With(document, new AddRegion("All", [Id(document, "A"), Id(document, "B"), Id(document, "C")]));
        Assert.Equal("All", Assert.Single(document.Regions).Label);
        Assert.Empty(Studies.With(document, new ChangeRegion(document.Regions[0].Id, Members: [])).Regions);
        Assert.NotNull(new AddRegion("None", ["v1"]).Apply(document).Refusal);
    }

    [Fact]
    public void Removing_a_compartment_reaches_its_region_its_references_and_pinned_notes()
    {
        var document = Studies.Of("A -> B at 1");
        document = Studies.With(document, new AddRegion("North", [Id(document, "A")]));
        document = Studies.With(document, new AddReference(Id(document, "A"), 500, 500));
        document = Studies.With(document, new SetField(Id(document, "A"), PartField.Note, "counted twice"));
        document = Studies.With(document, new PinNote(Id(document, "A"), 0, 0));
        document = Studies.With(document, new SetField(document.Flows[0].Id, PartField.Note, "by ferry"));
        document = Studies.With(document, new PinNote(document.Flows[0].Id, 0, 0));
        var removed = Studies.With(document, new RemoveParts(Id(document, "A")));
        Assert.Empty(removed.Regions);
        Assert.Empty(removed.References);
        Assert.Empty(removed.Texts); // the flow went with its compartment, and its note with it
    }

    [Fact]
    public void Texts_are_written_changed_and_taken_away()
    {
        var document = Studies.With(Studies.Of("A(0) = 1"), new WriteText(null, " the north bank ", 5, 6));
        var text = Assert.Single(document.Texts);
        Assert.Equal(("the north bank", 5.0, 6.0), (text.Text, text.X, text.Y));
        document = Studies.With(document, new WriteText(text.Id, "the south bank"));
        Assert.Equal("the south bank", document.Texts[0].Text);
        Assert.Empty(Studies.With(document, new WriteText(text.Id, "")).Texts);
        Assert.NotNull(new WriteText(null, "", 0, 0).Apply(document).Refusal);
        Assert.NotNull(new WriteText(null, new string('x', WriteText.Longest + 1)).Apply(document).Refusal);
    }

    [Fact]
    public void A_pinned_note_is_the_note_of_its_part()
    {
        var document = Studies.Of("A(0) = 1");
        Assert.Contains("no note yet", new PinNote("c1", 0, 0).Apply(document).Refusal);
        document = Studies.With(document, new SetField("c1", PartField.Note, "first"));
        document = Studies.With(document, new PinNote("c1", 9, 9));
        document = Studies.With(document, new WriteText(document.Texts[0].Id, "second"));
        Assert.Equal("second", document.Compartments[0].Note);
        Assert.Empty(Studies.With(document, new PinNote("c1", 0, 0)).Texts);
    }

    [Fact]
    public void Several_plates_move_at_once_and_only_those_named()
    {
        var document = Studies.Of("A -> B at 1; B -> C at 1");
        var moved = Studies.With(document, new MoveOnPaper([new(Id(document, "A"), 1, 2), new(Id(document, "C"), 3, 4)], "aligned"));
        Assert.Equal(
            [(1.0, 2.0), (document.Compartments[1].X, document.Compartments[1].Y), (3.0, 4.0)],
            moved.Compartments.Select(part => (part.X, part.Y))
        );
        Assert.Equal(
            "A, C: aligned",
            new MoveOnPaper([new(Id(document, "A"), 1, 2), new(Id(document, "C"), 3, 4)], "aligned").Describe(document)
        );
        Assert.NotNull(new MoveOnPaper("c99", 0, 0).Apply(document).Refusal);
    }

    [Theory]
    [InlineData(RibbonShape.Size, 8)]
    [InlineData(RibbonShape.Size, 41)]
    public void Type_too_small_or_too_large_is_refused(RibbonShape shape, int size) =>
        Assert.NotNull(new ShapeRibbon("f3", 0, shape, null, size).Apply(Studies.Of("A -> B at 1")).Refusal);

    [Fact]
    public void What_a_ribbon_looks_like_is_kept_with_its_end()
    {
        var document = Studies.Of("I -> R 98%, D the rest after 5 days");
        var id = document.Flows[0].Id;
        document = Studies.With(document, new ShapeRibbon(id, 1, RibbonShape.Bend, new(10, 20)));
        document = Studies.With(document, new ShapeRibbon(id, 1, RibbonShape.Caption, new(-5, 7)));
        document = Studies.With(document, new ShapeRibbon(id, 1, RibbonShape.Size, null, 20));
        Assert.Equal(
            (null, new Offset(10, 20), new Offset(-5, 7), 20),
            (
                document.Flows[0].To[0].Bend,
                document.Flows[0].To[1].Bend,
                document.Flows[0].To[1].Caption,
                document.Flows[0].To[1].CaptionSize
            )
        );
        Assert.Null(Studies.With(document, new ShapeRibbon(id, 1, RibbonShape.Bend, null)).Flows[0].To[1].Bend);
        Assert.NotNull(new ShapeRibbon(id, 2, RibbonShape.Bend, null).Apply(document).Refusal);
    }
}
