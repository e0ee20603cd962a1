using ClearTide.Core.Language;

namespace ClearTide.Core.Tests;

public class TypedNumberReadingTests
{
    [Theory]
    [InlineData("0.25", 0.25)]
    [InlineData(" -1e-8 ", -1e-8)]
    [InlineData("1e300", 1e300)]
    public void A_number_is_read(string text, double value) => Assert.Equal(value, TypedNumber.Read(text));

    [Theory]
    [InlineData(null)]
    [InlineData("")]
    [InlineData("0,25")]
    [InlineData("1 000")]
    [InlineData("NaN")]
    [InlineData("1e999")]
    [InlineData("Infinity")]
    [InlineData("3 days")]
    public void What_is_no_finite_number_is_none(string? text) => Assert.Null(TypedNumber.Read(text));

    [Theory]
    [InlineData("200", 200)]
    [InlineData(" 7 ", 7)]
    [InlineData("-1", null)]
    [InlineData("2.0", null)]
    [InlineData("99999999999", null)]
    public void A_whole_number_is_digits_alone(string text, int? value) => Assert.Equal(value, TypedNumber.ReadWhole(text));

    [Fact]
    public void Exact_digits_are_read_as_the_same_number()
    {
        var random = new Random(5);
        for (var k = 0; k < 1000; k++)
        {
            var value = BitConverter.Int64BitsToDouble(random.NextInt64());
            if (double.IsFinite(value))
                Assert.Equal(value, TypedNumber.Read(TypedNumber.Exact(value)));
        }
    }
}

public class NumberWordsTests
{
    [Theory]
    [InlineData(0, "0")]
    [InlineData(24.8, "24.8")]
    [InlineData(0.1 + 0.2, "0.3")]
    [InlineData(999.96, "1\u2009000")]
    [InlineData(18395.4, "18\u2009395")]
    [InlineData(-1234567.8, "-1\u2009234\u2009568")]
    [InlineData(2.5e16, "2.5 × 10¹⁶")]
    public void Sentences_on_results_group_thousands(double value, string said) => Assert.Equal(said, NumberWords.Grouped(value));
}
