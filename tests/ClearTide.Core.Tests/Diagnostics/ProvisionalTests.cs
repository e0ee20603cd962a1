using ClearTide.Core.Compilation;

namespace ClearTide.Core.Tests.Diagnostics;

/// <summary>Which parts are marked because something that they depend on is unfinished.</summary>
public class ProvisionalTests
{
    private static IEnumerable<string> Marked(string lines)
    {
        var lowered = Lowering.Lower(Studies.Of(lines));
        return lowered
            .Document.Parts.Where(part => lowered.Unfinished.Contains(part.Id))
            .Select(part => lowered.Document.Describe(part))
            .Order(StringComparer.Ordinal);
    }

    [Theory]
    [InlineData("A(0) = 1; A -> : 0.1 * A", new string[0])]
    [InlineData("A(0) = 1; B(0) = 1; A -> : z * A; B -> : 0.1 * B", new[] { "A", "A → outside" })]
    [InlineData("A(0) = 1; B(0) = 1; A -> B : z; q = 2 * B; p = 3", new[] { "A", "A → B", "B", "q" })]
    [InlineData("A(0) = 1; B(0) = 1; B -> at A; A -> : z", new[] { "A", "A → outside", "B", "B → outside" })]
    [InlineData("a = z; b = a; c = b; d = 1", new[] { "a", "b", "c" })]
    public void What_depends_on_it_is_marked_and_nothing_else(string lines, string[] marked) =>
        Assert.Equal(marked.Order(StringComparer.Ordinal), Marked(lines));

    [Fact]
    public void A_reaction_marks_what_it_takes_and_makes() =>
        Assert.Equal(["A", "B", "r"], Marked("A(0) = 1; B(0) = 0; C(0) = 0; reaction r: A -> B : z * A; C -> : 0.1 * C"));

    [Fact]
    public void An_event_marks_what_it_changes() => Assert.Contains("B", Marked("A(0) = 1; B(0) = 0; A -> : 0.1 * A; at 5: A -> B : z"));
}
