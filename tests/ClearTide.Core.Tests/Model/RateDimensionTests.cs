using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Model;

public class RateDimensionTests
{
    private static FormulaProblem? Misuse(string line, RateKind kind, string others = "k = 1") =>
        RateDimension.Misuse(Studies.Of(others), kind, Formula.Read(line).Tree!, line);

    [Theory]
    [InlineData("0.2 per day", RateKind.MeanStay, "Say “at 0.2 per day”")]
    [InlineData("5 days", RateKind.PerHead, "Say “after 5 days”")]
    [InlineData("1 / (5 days)", RateKind.MeanStay, "Say “at 1 / (5 days)”")]
    [InlineData("15%", RateKind.PerHead, "leave within a day")]
    public void A_duration_is_no_rate_and_a_rate_no_duration(string line, RateKind kind, string words) =>
        Assert.Contains(words, Misuse(line, kind)!.Message);

    [Theory]
    [InlineData("0.2 per day", RateKind.PerHead)]
    [InlineData("5 days", RateKind.MeanStay)]
    // Bare numbers take the unit of their surroundings.
    [InlineData("5", RateKind.MeanStay)]
    [InlineData("0.2", RateKind.PerHead)]
    [InlineData("2 * 5 days / 3", RateKind.MeanStay)]
    public void What_fits_is_not_remarked_on(string line, RateKind kind) => Assert.Null(Misuse(line, kind));

    [Fact]
    public void Definitions_are_followed_and_circles_say_nothing()
    {
        Assert.NotNull(Misuse("gamma", RateKind.MeanStay, "gamma = 1 / stay; stay = 5 days"));
        Assert.Null(Misuse("gamma", RateKind.PerHead, "gamma = 1 / stay; stay = 5 days"));
        Assert.Null(Misuse("a", RateKind.MeanStay, "a = b; b = a"));
    }
}
