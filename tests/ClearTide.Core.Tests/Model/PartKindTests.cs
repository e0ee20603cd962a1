using ClearTide.Core.Editing;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests;

/// <summary>What holds for every kind of part, tried on a study that has one of each.</summary>
public class PartKindTests
{
    private static readonly StudyDocument Study = EveryPart.Study();

    public static TheoryData<string> Kinds => [.. PartKinds.All.Select(kind => kind.Noun(kind.In(Study).First()))];

    private static (PartKind Kind, IPart Part) Of(string noun)
    {
        var kind = PartKinds.All.Single(kind => kind.Noun(kind.In(Study).First()) == noun);
        return (kind, kind.In(Study).First());
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void A_part_is_found_replaced_and_taken_out(string noun)
    {
        var (kind, part) = Of(noun);
        Assert.Same(kind, PartKinds.Of(part));
        Assert.Same(part, Study.Part(part.Id));
        var noted = kind.With(part, PartField.Note, "Seen.");
        var replaced = Study.With(noted);
        Assert.Same(noted, replaced.Part(part.Id));
        Assert.Equal(Study.Parts.Select(one => one.Id), replaced.Parts.Select(one => one.Id));
        var without = kind.Without(Study, id => id == part.Id);
        Assert.Null(without.Part(part.Id));
        Assert.Equal(Study.Parts.Count() - 1, without.Parts.Count());
        Assert.Equal(Study, kind.Without(Study, _ => false));
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Each_field_keeps_what_it_is_given(string noun)
    {
        var (kind, part) = Of(noun);
        foreach (var field in Enum.GetValues<PartField>().Where(kind.Has))
        {
            var text = kind.Text(part, field);
            Assert.NotNull(text);
            Assert.Equal(text, kind.Text(kind.With(part, field, text), field));
        }
        Assert.True(kind.Has(PartField.Note));
        Assert.Null(kind.Text(part, PartField.Note, at: 99));
        Assert.Throws<FieldRefusedException>(() => kind.With(part, PartField.Note, "", at: 99));
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void A_part_moves_to_the_end_and_back(string noun)
    {
        var (kind, part) = Of(noun);
        var twin = kind.Put(Study, Renumbered(part));
        var last = kind.Moved(twin, part.Id, null);
        Assert.Equal(part.Id, kind.In(last).Last().Id);
        var second = kind.In(twin).ElementAt(1).Id;
        Assert.Equal(kind.In(twin), kind.In(kind.Moved(last, part.Id, second)));
        Assert.Equal(twin, kind.Moved(twin, part.Id, part.Id));
        Assert.Equal(twin, kind.Moved(twin, "nothing", null));
    }

    /// <summary>The same part under an id that no other has.</summary>
    private static IPart Renumbered(IPart part) =>
        part switch
        {
            Compartment one => one with { Id = "twin" },
            Flow one => one with { Id = "twin" },
            Reaction one => one with { Id = "twin" },
            Definition one => one with { Id = "twin" },
            Input one => one with { Id = "twin" },
            ResponseCurve one => one with { Id = "twin" },
            RandomInput one => one with { Id = "twin" },
            EventRule one => one with { Id = "twin" },
            Assumption one => one with { Id = "twin" },
            Expectation one => one with { Id = "twin" },
            Group one => one with { Id = "twin" },
            _ => throw new ArgumentException("A kind without a test.", nameof(part)),
        };

    /// <summary>Each choice refuses what is none of its own.</summary>
    [Fact]
    public void A_choice_that_is_none_is_refused()
    {
        foreach (var (part, field) in new[] { ("compartment", PartField.Origin), ("flow", PartField.RateKind), ("input", PartField.After) })
        {
            var (kind, first) = Of($"a{(part == "input" ? "n" : "")} {part}");
            var refused = Assert.Throws<FieldRefusedException>(() => kind.With(first, field, "17"));
            Assert.Contains("is none of", refused.Message);
            Assert.Contains("is none of", new SetField(first.Id, field, "sideways").Apply(Study).Refusal);
        }
    }
}
