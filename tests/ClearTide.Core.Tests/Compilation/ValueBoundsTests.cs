using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests;

public class ValueBoundsTests
{
    private static StudyDocument Bounded(string lower, string upper, string unit = "", string value = "0.7 per week")
    {
        var document = Studies.Of($"A -> B at k; k = {value}; A(0) = 50");
        var id = document.DefinitionBySymbol("k")!.Id;
        foreach (var (field, text) in new[] { (PartField.Lower, lower), (PartField.Upper, upper), (PartField.Unit, unit) })
            document = new SetField(id, field, text).Apply(document).Document!;
        return document;
    }

    private static ValueBounds Of(StudyDocument document) => ValueBounds.Of(document, document.DefinitionBySymbol("k"));

    [Fact]
    public void Bounds_are_read_with_their_units()
    {
        var bounds = Of(Bounded("0.35 per week", "1.4 per week"));
        // 0.35 and 1.4 a week are 0.05 and 0.2 a day, to rounding.
        Assert.Equal(0.05, bounds.Lower!.Value, 1e-15);
        Assert.Equal(0.2, bounds.Upper!.Value, 1e-15);
    }

    [Fact]
    public void A_bare_bound_is_in_the_unit_of_its_part_as_the_value_is()
    {
        var document = Bounded("0.35", "1.4", "1/week", "0.7");
        Assert.Equal(0.05, Of(document).Lower!.Value, 1e-15);
        Assert.DoesNotContain(Lowering.Lower(document).Findings, finding => finding.Message.Contains("bound", StringComparison.Ordinal));
        var outside = Bounded("0.35", "0.6", "1/week", "0.7");
        Assert.Contains(Lowering.Lower(outside).Findings, finding => finding.Message.Contains("above its upper", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("", "")]
    [InlineData("A + 1", "2 +")]
    public void What_is_no_number_is_no_bound(string lower, string upper) => Assert.Equal(default, Of(Bounded(lower, upper)));

    [Fact]
    public void A_new_slider_keeps_to_the_bounds()
    {
        var slider = SetSlider.For(Bounded("0.35 per week", "1.4 per week"), "k");
        Assert.Equal((0.05, 0.2), (Math.Round(slider.Low, 12), Math.Round(slider.High, 12)));
    }
}
