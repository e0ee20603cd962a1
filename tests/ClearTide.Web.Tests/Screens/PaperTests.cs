using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Web.Diagram;

namespace ClearTide.Web.Tests.Screens;

public class PaperTests
{
    private static StudyDocument Study(string lines) => new AddLines(lines).Apply(new StudyDocument { Title = "Estuary" }).Document!;

    private static DiagramModel Draw(StudyDocument document) => DiagramModel.Of(Lowering.Lower(document));

    private static string Id(StudyDocument document, string symbol) => document.CompartmentBySymbol(symbol)!.Id;

    [Fact]
    public void A_folded_region_is_one_plate_and_its_flows_make_one_ribbon_each_way()
    {
        var document = Study("A -> B at 0.1; B -> C at 0.2; A -> C at 0.3; C -> A at 0.4; A -> : 1");
        document = new AddRegion("Town", [Id(document, "A"), Id(document, "B")]).Apply(document).Document!;
        Assert.Equal(5, Draw(document).Ribbons.Count);
        var folded = Draw(new ChangeRegion(document.Regions[0].Id, Folded: true).Apply(document).Document!);
        Assert.Equal("C", Assert.Single(folded.Plates).Symbol);
        // A → B is inside and hidden; B → C and A → C make one; C → A and A → outside stand alone.
        Assert.Equal([2, 1, 1], folded.Ribbons.Select(ribbon => ribbon.Strands.Count));
        Assert.Equal("2 flows", folded.Ribbons[0].Caption);
    }

    [Fact]
    public void A_region_encloses_its_plates()
    {
        var document = Study("A -> B at 0.1; B -> C at 0.2");
        document = new AddRegion("Town", [Id(document, "A"), Id(document, "C")]).Apply(document).Document!;
        var diagram = Draw(document);
        var box = diagram.Regions.Single().Box;
        foreach (var plate in diagram.Plates.Where(plate => plate.Symbol != "B"))
            Assert.True(box.X < plate.Box.X && box.Right > plate.Box.Right && box.Y < plate.Box.Y && box.Bottom > plate.Box.Bottom);
    }

    [Fact]
    public void A_flow_docks_at_the_nearest_showing_of_a_compartment()
    {
        var document = Study("A -> B at 0.1");
        document = new MoveOnPaper(Id(document, "B"), 3000, 150).Apply(document).Document!;
        var far = Draw(document).Ribbons[0].Line;
        document = new AddReference(Id(document, "A"), 2700, 150).Apply(document).Document!;
        var near = Draw(document).Ribbons[0].Line;
        Assert.True(far.X2 - far.X1 > 2000);
        Assert.True(near.X2 - near.X1 < 300);
        Assert.Equal(2, Draw(document).Plates.Count(plate => plate.Symbol == "A"));
    }

    [Fact]
    public void A_bend_moves_the_middle_of_a_ribbon_by_what_was_asked_and_leaves_its_ends()
    {
        var document = Study("A -> B at 0.1");
        var straight = Draw(document).Ribbons[0].Line;
        var bent = Draw(new ShapeRibbon(document.Flows[0].Id, 0, RibbonShape.Bend, new(30, -80)).Apply(document).Document!).Ribbons[0].Line;
        Assert.Equal((straight.X1, straight.Y1, straight.X2, straight.Y2), (bent.X1, bent.Y1, bent.X2, bent.Y2));
        // A cubic curve's middle is linear in its control points: only rounding of the last bits differs.
        Assert.Equal(straight.At(0.5).X + 30, bent.At(0.5).X, 1e-9);
        Assert.Equal(straight.At(0.5).Y - 80, bent.At(0.5).Y, 1e-9);
    }

    [Fact]
    public void An_open_end_lies_where_it_was_drawn_and_else_where_nothing_is_in_its_way()
    {
        var document = Study("A -> : 1");
        document = new AddPlate("B", document.Compartments[0].X, document.Compartments[0].Y + 110).Apply(document).Document!;
        var line = Draw(document).Ribbons[0].Line;
        Assert.Equal(document.Compartments[0].X + PlatePlacing.Width, line.X1); // to the right, since B stands below
        document = new ShapeRibbon(document.Flows[0].Id, 0, RibbonShape.Open, new(-200, 30)).Apply(document).Document!;
        line = Draw(document).Ribbons[0].Line;
        Assert.Equal((document.Compartments[0].X - 200, document.Compartments[0].Y + 30), (line.X2, line.Y2));
    }

    [Fact]
    public void A_drawing_is_taken_over_when_only_values_change_and_made_anew_when_plates_do()
    {
        var document = Study("A -> B at k; k = 0.1");
        var first = Draw(document);
        var edited = new SetField(document.Definitions[0].Id, PartField.Text, "0.2").Apply(document).Document!;
        Assert.Same(first, DiagramModel.Of(Lowering.Lower(edited), first));
        var moved = new MoveOnPaper(Id(document, "A"), 5, 5).Apply(document).Document!;
        Assert.NotSame(first, DiagramModel.Of(Lowering.Lower(moved), first));
        var broken = new SetField(document.Definitions[0].Id, PartField.Symbol, "m").Apply(document).Document!;
        broken = new RemoveParts(broken.Definitions[0].Id).Apply(broken).Document!;
        Assert.NotSame(first, DiagramModel.Of(Lowering.Lower(broken), first));
    }

    [Fact]
    public void Words_on_the_paper_are_broken_into_lines_and_a_note_shows_its_parts_words()
    {
        var document = Study("A -> B at 0.1");
        document = new WriteText(
            null,
            "The ferry calls twice a day and brings people from Tesk and Vorrin, who stay overnight.\nSecond paragraph",
            10,
            20
        )
            .Apply(document)
            .Document!;
        var lines = Draw(document).Texts.Single().Lines;
        Assert.True(lines.Count >= 3);
        Assert.All(lines, line => Assert.InRange(line.Length, 1, 42));
        Assert.Equal("Second paragraph", lines[^1]);
        document = new SetField(Id(document, "A"), PartField.Note, "counted at the quay").Apply(document).Document!;
        document = new PinNote(Id(document, "A"), 0, 0).Apply(document).Document!;
        Assert.Contains(Draw(document).Texts, text => text.Lines.SequenceEqual(["counted at the quay"]));
    }
}
