using ClearTide.Core.Language;
using ClearTide.Formats.Print;

namespace ClearTide.Formats.Tests;

public class PrintTests
{
    private static string Print(string text) => MathMl.Of(Formula.Read(text).Tree!);

    [Theory]
    [InlineData("beta * S", "<mi>β</mi>", "<mi>S</mi>")]
    [InlineData("a / (b + c)", "<mfrac><mrow><mi>a</mi></mrow><mrow><mrow><mi>b</mi><mo>+</mo><mi>c</mi></mrow></mrow></mfrac>")]
    [InlineData("(a + b) * c", "<mo>(</mo><mrow><mi>a</mi><mo>+</mo><mi>b</mi></mrow><mo>)</mo>")]
    [InlineData("a - (b - c)", "<mo>(</mo><mrow><mi>b</mi><mo>−</mo><mi>c</mi></mrow><mo>)</mo>")]
    [InlineData("k_on", "<msub><mi>k</mi><mi>on</mi></msub>")]
    [InlineData("1/7 per day", "\u00a0per day")]
    [InlineData("a < b", "<mo>&lt;</mo>")]
    public void Formulas_print_as_mathematics(string text, params string[] pieces)
    {
        foreach (var piece in pieces)
            Assert.Contains(piece, Print(text));
    }

    [Fact]
    public void Plain_print_uses_printed_signs() => Assert.Equal("β\u2009S\u2009I / N", PlainPrint.Of("beta * S * I / N"));

    /// <summary>Words of several letters keep a space that is seen, letters a thin one; Greek names are one letter.</summary>
    [Theory]
    [InlineData("loss * adults", "loss\u2004adults")]
    [InlineData("k * adults * S", "k\u2004adults\u2004S")]
    [InlineData("laying(t) * adults", "laying(t)\u2004adults")]
    [InlineData("2 * beta * gamma * I", "2\u2009β\u2009γ\u2009I")]
    public void Factors_that_are_words_stand_apart(string typed, string printed) => Assert.Equal(printed, PlainPrint.Of(typed));

    [Fact]
    public void Plain_print_keeps_a_unit_apart_from_what_is_multiplied() =>
        Assert.Equal("15% per year × A\u2009B", PlainPrint.Of("15% per year * A * B"));
}
