using ClearTide.Core.Language;

namespace ClearTide.Core.Tests.Language;

public class SymbolTests
{
    [Theory]
    [InlineData("S", true)]
    [InlineData("S_v", true)]
    [InlineData("β2", true)]
    [InlineData("2S", false)]
    [InlineData("_S", false)]
    [InlineData("S-v", false)]
    [InlineData("at", false)]
    [InlineData("pi", false)]
    [InlineData("exp", false)]
    [InlineData("", false)]
    public void Symbols_begin_with_a_letter_and_are_no_word_of_the_language(string symbol, bool allowed) =>
        Assert.Equal(allowed, Symbols.Refusal(symbol) is null);

    [Fact]
    public void A_symbol_has_a_greatest_length()
    {
        Assert.Null(Symbols.Refusal(new string('a', Symbols.Longest)));
        Assert.Contains("at most", Symbols.Refusal(new string('a', Symbols.Longest + 1)));
    }

    [Theory]
    // The micro sign, a ligature, a full-width letter; what is plain already stays the same string.
    [InlineData("µ", "μ")]
    [InlineData("ﬁ", "fi")]
    [InlineData("Ａ", "A")]
    [InlineData("S_v", "S_v")]
    public void Symbols_are_compared_in_one_normal_form(string typed, string normal) => Assert.Equal(normal, Symbols.Normalize(typed));

    [Theory]
    [InlineData("Susceptible", "", "S")]
    [InlineData("Susceptible", "S", "Su")]
    [InlineData("Susceptible bees", "S", "SB")]
    [InlineData("Susceptible", "S Su Sus", "S2")]
    [InlineData("42", "", null)]
    // A name of the language is no symbol, and one that prints like a taken one is as good as taken.
    [InlineData("tide", "", "T")]
    public void A_label_suggests_a_free_symbol(string label, string taken, string? symbol) =>
        Assert.Equal(symbol, Symbols.Suggest(label, taken.Split(' ', StringSplitOptions.RemoveEmptyEntries)));

    [Theory]
    [InlineData("bata", "beta gamma", "beta")]
    [InlineData("gama", "beta gamma", "gamma")]
    [InlineData("x", "beta gamma", null)]
    [InlineData("infectionrate", "infection_rate", "infection_rate")]
    public void The_nearest_known_symbol_is_offered_where_one_is_near(string mistyped, string known, string? nearest) =>
        Assert.Equal(nearest, Symbols.Nearest(mistyped, known.Split(' ')));

    [Theory]
    [InlineData("beta", "β", true)]
    [InlineData("A", "А", true)]
    [InlineData("beta_1", "β_1", true)]
    [InlineData("beta_1", "beta_2", false)]
    public void Symbols_that_print_alike_are_known_as_such(string one, string other, bool alike) =>
        Assert.Equal(alike, Symbols.PrintedShape(one) == Symbols.PrintedShape(other));

    [Fact]
    public void Units_of_time_are_whole_parts_of_each_other()
    {
        Assert.Equal(TimeUnit.Year.Seconds, 12 * TimeUnit.Month.Seconds);
        Assert.Equal(TimeUnit.Week.Seconds, 7 * TimeUnit.Day.Seconds);
        Assert.All(TimeUnit.Known, word => Assert.NotNull(TimeUnit.Find(word)));
        Assert.Null(TimeUnit.Find("fortnight"));
        Assert.Equal(TimeUnit.All.OrderBy(unit => unit.Seconds), TimeUnit.All);
    }
}
