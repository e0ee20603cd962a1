using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Units;

namespace ClearTide.Core.Tests.Language;

public class ReadingTests
{
    private static double Value(string text) => FormulaBinder.ValueOf(Formula.Read(text).Tree!, UnitTable.Of(TimeUnit.Day));

    [Theory]
    [InlineData("2 + 3 * 4", 14)]
    [InlineData("2 ^ 3 ^ 2", 512)]
    [InlineData("-2 ^ 2", -4)]
    [InlineData("2 ^ -1", 0.5)]
    [InlineData("8 / 4 / 2", 1)]
    [InlineData("10 - 4 - 3", 3)]
    [InlineData("2 − 1 × 3 ÷ 2", 0.5)]
    [InlineData("18\u2009400 + 1", 18401)]
    [InlineData("1e3 + 1.5e-1", 1000.15)]
    [InlineData("2%", 0.02)]
    [InlineData("1/14", 1.0 / 14)]
    [InlineData("90 days", 90)]
    [InlineData("2 weeks", 14)]
    [InlineData("36 h", 1.5)]
    [InlineData("1 year", 365.25)]
    [InlineData("12 months / 1 year", 12 * 30.4375 / 365.25)]
    [InlineData("1/7 per day", 1.0 / 7)]
    [InlineData("19 per 1000 per year", 0.019 / 365.25)]
    [InlineData("if(1 < 2 and not 3 < 2, 5, 6)", 5)]
    [InlineData("mod(7.5, 2)", 1.5)]
    [InlineData("round(2.5) + floor(-0.5) + ceil(0.2)", 3)]
    [InlineData("min(4, 2, 3) + max(1, 9)", 11)]
    [InlineData("factorial(5)", 120)]
    [InlineData("root(3, 27)", 3)]
    [InlineData("log10(1000)", 3)]
    [InlineData("2 * (3 per week)", 6.0 / 7)]
    [InlineData("3 per week * 2", 6.0 / 7)]
    [InlineData("15% per week * 2", 0.3 / 7)]
    [InlineData("-15% per week * 2", -0.3 / 7)]
    [InlineData("2 * 3 per week * 5 / 4", 7.5 / 7)]
    [InlineData("19 per 1000 per week * 2 + 1", 0.038 / 7 + 1)]
    [InlineData("1/7 per day * 14 - 2 ^ 2 * 3", -10)]
    [InlineData("3 per week * 2 per 1000", 0.006 / 7)]
    [InlineData("2 * (3 per week * 2 + 1)", 12.0 / 7 + 2)]
    public void Lines_have_their_values(string text, double value) => Assert.Equal(value, Value(text), 1e-12 * Math.Abs(value) + 1e-15);

    [Theory]
    [InlineData("1,5", "point", "1.5")]
    [InlineData("18 388", "side by side", "18388")]
    [InlineData("a b", "sign is missing", "a * b")]
    [InlineData("1/2 day", "0.5 day or as 1/2 per day", "0.5 day")]
    [InlineData("1/2 day", "0.5 day or as 1/2 per day", "1/2 per day")]
    [InlineData("a + b per day", "It is not clear", "(a + b) per day")]
    [InlineData("a + 2 per day * b", "It is not clear", "a + (2 per day) * b")]
    [InlineData("a + b per day", "It is not clear", "a + (b per day)")]
    public void Slips_are_named_and_a_fix_mends_them(string text, string words, string mended)
    {
        var problem = Formula.Read(text).Problem;
        Assert.NotNull(problem);
        Assert.Contains(words, problem.Message);
        Assert.Contains(mended, problem.Fixes.Select(fix => fix.Replacement));
        Assert.Null(Formula.Read(mended).Problem);
    }

    [Theory]
    [InlineData("")]
    [InlineData("(1 + 2")]
    [InlineData("1 +")]
    [InlineData("1 + )")]
    [InlineData("a < b < c")]
    [InlineData("sqrt()")]
    [InlineData("sqrt(1, 2)")]
    [InlineData("1e999")]
    [InlineData("a ? b")]
    [InlineData("3 per")]
    [InlineData("at")]
    public void Nonsense_gives_a_sentence_with_a_place_and_never_throws(string text)
    {
        var problem = Formula.Read(text).Problem;
        Assert.NotNull(problem);
        Assert.InRange(problem.Span.Start, 0, text.Length);
        Assert.Matches("[.?)]$", problem.Message);
    }

    [Theory]
    [InlineData(5000)]
    [InlineData(500)]
    public void Deep_parentheses_are_refused_in_words(int depth) =>
        Assert.NotNull(Formula.Read(new string('(', depth) + "1" + new string(')', depth)).Problem);

    [Fact]
    public void A_hundred_thousand_terms_are_refused_in_words() =>
        Assert.Contains("is the limit", Formula.Read(string.Join("+", Enumerable.Repeat("1", 100_000))).Problem!.Message);

    [Fact]
    public void Renaming_reaches_symbols_and_leaves_units_alone()
    {
        Assert.Equal("rate * 3 day + rate per day", LineNames.InFormula("day * 3 day + day per day", "day", "rate"));
        Assert.Equal("k_on + k", LineNames.InFormula("k_on + b", "b", "k"));
    }

    [Theory]
    [InlineData("bata", "beta")]
    [InlineData("gama", "gamma")]
    [InlineData("BETA", "beta")]
    [InlineData("s", "S")]
    [InlineData("Q", null)]
    [InlineData("zzzz", null)]
    public void The_nearest_name_is_found_or_none(string mistyped, string? nearest) =>
        Assert.Equal(nearest, Symbols.Nearest(mistyped, ["beta", "gamma", "S", "I"]));
}
