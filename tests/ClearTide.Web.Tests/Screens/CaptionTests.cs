using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Studies;
using ClearTide.Web.Diagram;

namespace ClearTide.Web.Tests.Screens;

public class CaptionTests
{
    private static StudyDocument Study(string lines) => new AddLines(lines).Apply(new StudyDocument { Title = "Estuary" }).Document!;

    private static DiagramModel Draw(StudyDocument document) => DiagramModel.Of(Lowering.Lower(document));

    public static TheoryData<string> Shipped =>
        [
            .. Directory
                .EnumerateFiles(Path.Combine(AppContext.BaseDirectory, "demo"), "*.study.json", SearchOption.AllDirectories)
                .Select(file => Path.GetRelativePath(AppContext.BaseDirectory, file)),
        ];

    private static void AssertApart(DiagramModel diagram)
    {
        var captions = diagram.Ribbons.Select(ribbon => (Name: ribbon.Leg.Key, ribbon.Place.Box)).ToList();
        var fixedBoxes = diagram
            .Plates.Select(plate => (Name: plate.Symbol, plate.Box))
            .Concat(diagram.Texts.Select(text => (Name: text.Text.Id, text.Box)))
            .ToList();
        for (var k = 0; k < captions.Count; k++)
        {
            foreach (var other in captions.Skip(k + 1).Concat(fixedBoxes))
                Assert.False(captions[k].Box.Overlaps(other.Box), $"{captions[k].Name} covers {other.Name}");
        }
    }

    [Theory]
    [MemberData(nameof(Shipped))]
    public void No_caption_of_a_shipped_study_covers_anything(string file) =>
        AssertApart(Draw(StudyFile.Read(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, file))).Document));

    [Fact]
    public void Three_hundred_compartments_keep_their_captions_apart() =>
        AssertApart(Draw(Study(string.Join("; ", Enumerable.Range(0, 299).Select(k => $"P{k} -> P{k + 1} at {k % 7 + 1} per day")))));

    [Fact]
    public void Plates_on_top_of_each_other_still_leave_captions_a_place()
    {
        var document = Study("A -> B at 0.1; B -> C at 0.2; C -> A at 0.3");
        document = new MoveOnPaper([.. document.Compartments.Select(part => new PaperPlace(part.Id, 100, 100))]).Apply(document).Document!;
        AssertApart(Draw(document));
    }

    [Fact]
    public void A_caption_that_is_pushed_away_has_a_leader_line()
    {
        // Thirty flows between two plates: there is room for few of their captions beside them.
        var ribbons = Draw(Study(string.Join("; ", Enumerable.Range(1, 30).Select(k => $"A -> B at 0.{k}")))).Ribbons;
        Assert.Contains(ribbons, ribbon => ribbon.Place.Leader is not null);
        Assert.Contains(ribbons, ribbon => ribbon.Place.Leader is null);
        foreach (var ribbon in ribbons.Where(ribbon => ribbon.Place.Leader is not null))
        {
            var (_, _, x, y) = ribbon.Place.Leader!.Value;
            Assert.Equal((x, y), ribbon.Place.Box.Nearest(x, y));
        }
    }

    [Fact]
    public void A_caption_stays_where_the_user_put_it_and_others_make_room()
    {
        var document = Study("A -> B at 0.1; A -> B at 0.2");
        var (first, second) = (document.Flows[0], document.Flows[1]);
        var other = Draw(document).Ribbons[1].Place.Box;
        var middle = Draw(document).Ribbons[0].Line.At(0.5);
        document = new ShapeRibbon(first.Id, 0, RibbonShape.Caption, new(other.CentreX - middle.X, other.CentreY - middle.Y))
            .Apply(document)
            .Document!;
        var ribbons = Draw(document).Ribbons;
        // Offsets are kept on whole units of paper.
        Assert.Equal(other.CentreX, ribbons[0].Place.Box.CentreX, 1.0);
        Assert.False(ribbons[0].Place.Box.Overlaps(ribbons[1].Place.Box));
        Assert.NotEqual(other, ribbons[1].Place.Box);
        Assert.Equal(second.Id, ribbons[1].First.Id);
    }

    [Fact]
    public void A_larger_type_takes_more_room()
    {
        var document = Study("A -> B at 0.1");
        var before = Draw(document).Ribbons[0].Place.Box;
        var after = Draw(new ShapeRibbon(document.Flows[0].Id, 0, RibbonShape.Size, null, 30).Apply(document).Document!)
            .Ribbons[0]
            .Place.Box;
        Assert.True(after.Height > before.Height);
    }
}
