using ClearTide.Core.Editing;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests;

public class ComputedCurvesTests
{
    [Theory]
    [InlineData("share = I / N", "share", "I / N")]
    [InlineData("I / N", "I / N", "I / N")]
    [InlineData("I >= 3", "I >= 3", "I >= 3")]
    [InlineData("I == 3", "I == 3", "I == 3")]
    [InlineData("above = I >= 3", "above", "I >= 3")]
    public void A_name_stands_before_an_equals_sign(string line, string name, string formula) =>
        Assert.Equal((name, formula), ComputedCurves.Split(line));

    /// <summary>A formula over results follows a renamed part; what is known by the formula itself stays where it was put.</summary>
    [Fact]
    public void Computed_curves_follow_a_renamed_part()
    {
        var document = Studies.Of("S -> I at 0.1; I -> R at 0.2; S(0) = 9") with
        {
            Panels =
            [
                new("x1", PanelKind.Curves)
                {
                    Formulas = "I = I / (S + I)\nflow(S, I)\ntotal(I) >= 3",
                    Second = ["=flow(S, I)", "=I"],
                    Of = "=total(I) >= 3",
                },
            ],
        };
        var renamed = new SetField(document.PartBySymbol("I")!.Id, PartField.Symbol, "Ill").Apply(document).Document!;
        var panel = renamed.Panels[0];
        Assert.Equal("I = Ill / (S + Ill)\nflow(S, Ill)\ntotal(Ill) >= 3", panel.Formulas);
        Assert.Equal(["=flow(S, Ill)", "=I"], panel.Second);
        Assert.Equal("=total(Ill) >= 3", panel.Of);
    }
}
