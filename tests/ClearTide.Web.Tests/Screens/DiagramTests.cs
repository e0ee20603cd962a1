using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Web.Diagram;

namespace ClearTide.Web.Tests.Screens;

public class DiagramTests
{
    private static StudyDocument Study(string lines) => new AddLines(lines).Apply(new StudyDocument { Title = "Estuary" }).Document!;

    private static DiagramModel Draw(StudyDocument document) => DiagramModel.Of(Lowering.Lower(document));

    [Fact]
    public void A_ribbon_runs_from_rim_to_rim()
    {
        var document = Study("A -> B : A");
        var line = Draw(document).Ribbons.Single().Line;
        var (a, b) = (document.Compartments[0], document.Compartments[1]);
        Assert.Equal(a.X + PlatePlacing.Width, line.X1);
        Assert.Equal(b.X, line.X2);
        Assert.InRange(line.Y1, a.Y, a.Y + PlatePlacing.Height);
    }

    [Fact]
    public void Several_flows_on_one_side_do_not_share_a_place()
    {
        var document = Study("A -> B : A; A -> C : A; A -> D : A");
        var ribbons = Draw(document).Ribbons;
        Assert.Equal(3, ribbons.Select(ribbon => (ribbon.Line.X1, ribbon.Line.Y1)).Distinct().Count());
    }

    [Fact]
    public void There_and_back_again_are_two_ribbons_side_by_side()
    {
        var ribbons = Draw(Study("A -> B : A; B -> A : B")).Ribbons;
        Assert.NotEqual(ribbons[0].Line.Y1, ribbons[1].Line.Y2);
    }

    [Theory]
    [InlineData("-> A : 1")]
    [InlineData("A -> : A")]
    public void An_open_end_lies_off_its_plate(string lines)
    {
        var document = Study(lines);
        var (plate, line) = (document.Compartments[0], Draw(document).Ribbons[0].Line);
        bool Inside(double x, double y) =>
            x > plate.X && x < plate.X + PlatePlacing.Width && y > plate.Y && y < plate.Y + PlatePlacing.Height;
        Assert.False(Inside(line.X1, line.Y1));
        Assert.False(Inside(line.X2, line.Y2));
        Assert.True(Math.Abs(line.X2 - line.X1) + Math.Abs(line.Y2 - line.Y1) > 50);
    }

    [Fact]
    public void The_paper_holds_every_plate_wherever_it_was_put()
    {
        var document = Study("A -> B : A; B -> C : B");
        document = new MoveOnPaper(document.Compartments[2].Id, -900, 1500).Apply(document).Document!;
        var diagram = Draw(document);
        foreach (var plate in diagram.Plates)
        {
            Assert.InRange(plate.Part.X, diagram.Paper.X, diagram.Paper.Right - PlatePlacing.Width);
            Assert.InRange(plate.Part.Y, diagram.Paper.Y, diagram.Paper.Bottom - PlatePlacing.Height);
        }
    }

    [Fact]
    public void A_wild_gesture_cannot_lose_a_plate()
    {
        var document = Study("A -> B : A");
        var moved = new MoveOnPaper(document.Compartments[0].Id, 1e9, double.MaxValue).Apply(document).Document!;
        Assert.InRange(moved.Compartments[0].X, -MoveOnPaper.Reach, MoveOnPaper.Reach);
        Assert.NotNull(new MoveOnPaper(document.Compartments[0].Id, double.NaN, 0).Apply(document).Refusal);
    }
}
