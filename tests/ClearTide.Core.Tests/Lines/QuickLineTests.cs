using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Lines;

public class QuickLineTests
{
    private static readonly StudyDocument Empty = new() { Title = "Test" };

    [Fact]
    public void The_lines_of_an_epidemic_make_its_parts()
    {
        var document = Studies.Of(Studies.Latent);
        Assert.Equal(["S", "E", "I", "R"], document.Compartments.Select(part => part.Symbol));
        Assert.Equal([RateKind.Whole, RateKind.MeanStay, RateKind.PerHead], document.Flows.Select(part => part.Kind));
        Assert.Equal("the rest of 18400", document.Compartments[0].Start);
        Assert.Empty(Lowering.Lower(document).Findings);
    }

    [Theory]
    [InlineData("S -> I : 0.1 * S", "new compartment S", "new compartment I", "adds the flow S → I")]
    [InlineData("-> S : 3", "new compartment S", "adds the flow outside → S")]
    [InlineData("a = 1; b = 2 * a", "adds the parameter a", "adds the quantity b")]
    [InlineData("a = 1; a = 2", "adds the parameter a", "changes a to 2")]
    [InlineData("Q = 5; Q -> at 0.1", "adds the parameter Q", "turns Q into a compartment", "adds the flow Q → outside")]
    [InlineData(
        "S -> I : S; S -> Is : S",
        "new compartment S",
        "new compartment I",
        "adds the flow S → I",
        "new compartment Is (did you mean I?)",
        "adds the flow S → Is"
    )]
    public void The_preview_says_what_is_added(string line, params string[] said) => Assert.Equal(said, new AddLines(line).Preview(Empty));

    [Theory]
    [InlineData("S")]
    [InlineData("S ->")]
    [InlineData("-> : 3")]
    [InlineData("S -> S : 1")]
    [InlineData("S -> I")]
    [InlineData("-> S at 0.1")]
    [InlineData("S(1) = 4")]
    [InlineData("if = 4")]
    [InlineData("a =")]
    [InlineData("3 = a")]
    [InlineData("S -> I after 1/7 days")]
    [InlineData("S -> I after 0.2 per day")]
    [InlineData("S -> I at 5 days")]
    [InlineData("S -> I at 20%")]
    [InlineData("a = 1; S -> I : (")]
    public void Slips_are_refused_with_a_place_in_the_text(string line)
    {
        var result = new AddLines(line).Apply(Empty);
        Assert.Null(result.Document);
        Assert.NotNull(result.Refusal);
        Assert.InRange(result.Span!.Value.Start, 0, line.Length);
    }

    [Theory]
    [InlineData("S -> I after 0.2 per day")]
    [InlineData("S -> I at 5 days")]
    [InlineData("S -> I at 20%")]
    [InlineData("x = 3 ; S -> I after 1/7 days; y = 4")]
    public void Each_fix_makes_the_line_readable(string line)
    {
        var fixes = new AddLines(line).Apply(Empty).Fixes!;
        Assert.NotEmpty(fixes);
        Assert.All(fixes, fix =>
            Assert.True(
                fix.Replacement.Contains("->")
                    && (new AddLines(fix.Replacement).Apply(Empty).Document is not null || fix.Replacement.Contains("after 1/7 per day")),
                fix.Replacement
            )
        );
    }

    [Fact]
    public void A_name_with_the_dimension_of_a_rate_is_refused_after()
    {
        var document = Studies.Of("k = 1/5 per day");
        Assert.Contains("is a rate", new AddLines("S -> I after k").Apply(document).Refusal);
        Assert.NotNull(new AddLines("S -> I at k").Apply(document).Document);
    }

    [Fact]
    public void New_plates_never_lie_on_others()
    {
        var document = Studies.Of(string.Join(";", Enumerable.Range(0, 40).Select(k => $"A{k} -> B{k} : 1")));
        foreach (var a in document.Compartments)
        {
            Assert.DoesNotContain(document.Compartments, b =>
                a.Id != b.Id && Math.Abs(a.X - b.X) < PlatePlacing.Width && Math.Abs(a.Y - b.Y) < PlatePlacing.Height
            );
        }
    }
}
