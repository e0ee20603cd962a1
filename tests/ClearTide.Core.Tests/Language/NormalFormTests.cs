using System.Globalization;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;

namespace ClearTide.Core.Tests.Language;

public class NormalFormTests
{
    private static string Text(string codes) =>
        string.Concat(
            codes
                .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Select(code => char.ConvertFromUtf32(int.Parse(code, NumberStyles.HexNumber, CultureInfo.InvariantCulture)))
        );

    [Fact]
    public void Texts_come_to_the_form_that_another_library_gives_them()
    {
        using var stream = typeof(NormalFormTests).Assembly.GetManifestResourceStream("NormalFormCases.txt")!;
        using var reader = new StreamReader(stream);
        var count = 0;
        while (reader.ReadLine() is { } line)
        {
            var sides = line.Split(';');
            var (text, form) = (Text(sides[0]), Text(sides[1]));
            Assert.Equal(form, NormalForm.Of(text));
            // What is in normal form stays as it is.
            Assert.Equal(form, NormalForm.Of(form));
            count++;
        }
        Assert.True(count > 1000);
    }

    [Fact]
    public void A_symbol_typed_on_another_keyboard_is_the_same_symbol()
    {
        // A letter with its accent as one character and as two; the micro sign and the Greek letter; letters for print.
        var document = Studies.Of("\u00e9t = 4; A(0) = e\u0301t; dose = 3 \u00b5g; more = 3 \u03bcg; x = 2; y = \U0001d465 + 1");
        var lowered = Lowering.Lower(document);
        Assert.Empty(lowered.Findings);
        Assert.Equal(
            lowered.Network.Values[lowered.Network.IndexOf(new("dose"))].Value,
            lowered.Network.Values[lowered.Network.IndexOf(new("more"))].Value
        );
    }

    [Fact]
    public void Half_a_character_is_no_reason_to_fail() => Assert.Equal("a\uFFFDb", NormalForm.Of("a\ud835b"));
}
