using ClearTide.Core.Analysis;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Analysis;

public class PanelEditTests
{
    private static readonly StudyDocument Study = Studies.Of(
        "S(0) = 990; I(0) = 10; beta = 0.4 per day; S -> I : beta * S * I / 1000; I -> R after 5 days",
        100
    );

    private static StudyDocument Made(Edit edit, StudyDocument? on = null)
    {
        var result = edit.Apply(on ?? Study);
        Assert.Null(result.Refusal);
        return result.Document!;
    }

    [Fact]
    public void The_first_edit_of_panels_begins_from_the_usual_ones()
    {
        var with = Made(new AddPanel(PanelKind.Sweep));
        Assert.Equal([PanelKind.Curves, PanelKind.Budget, PanelKind.Outcomes, PanelKind.Sweep], with.Panels.Select(panel => panel.Kind));
        Assert.Equal(("beta", "0.2", "0.8"), (with.Panels[3].Address, with.Panels[3].From, with.Panels[3].To));
        Assert.Equal(4, with.Panels.Select(panel => panel.Id).Distinct().Count());
        var moved = Made(new MovePanel(with.Panels[3].Id, -3), with);
        Assert.Equal(PanelKind.Sweep, moved.Panels[0].Kind);
        Assert.Equal(3, Made(new RemovePanel(with.Panels[1].Id), with).Panels.Length);
    }

    [Fact]
    public void Fields_are_set_and_what_cannot_be_is_refused_in_words()
    {
        var study = Made(new SetPanel("x1", "log", "true"));
        Assert.True(study.Panels[0].Log);
        var i = study.CompartmentBySymbol("I")!.Id;
        study = Made(new SetPanel("x1", "curves", $"{i},nothing,{i}"), study);
        Assert.Equal([i], study.Panels[0].Curves);
        Assert.Equal("12.5", Made(new SetPanel("x1", "maximum", "12.5"), study).Panels[0].Maximum);
        Assert.Contains("no number", new SetPanel("x1", "maximum", "tall").Apply(study).Refusal);
        Assert.Equal(
            (420, Panel.MostHeight, 0),
            (
                Made(new SetPanel("x1", "height", "420"), study).Panels[0].Height,
                Made(new SetPanel("x1", "height", "99999"), study).Panels[0].Height,
                Made(new SetPanel("x1", "height", "0"), study).Panels[0].Height
            )
        );
        Assert.Contains("whole number of pixels", new SetPanel("x1", "height", "tall").Apply(study).Refusal);
        Assert.True(Made(new SetPanel("x1", "data", "false"), study).Panels[0].WithoutData);
        Assert.Contains("no such field", new SetPanel("x1", "colour", "red").Apply(study).Refusal);
        Assert.Contains("no longer there", new SetPanel("x99", "log", "true").Apply(study).Refusal);
    }

    [Fact]
    public void The_last_panel_stays_and_there_is_a_limit()
    {
        var study = Study with { Panels = [new("x1", PanelKind.Curves)] };
        Assert.Contains("stays", new RemovePanel("x1").Apply(study).Refusal);
        for (var k = 1; k < Panel.Most; k++)
            study = Made(new AddPanel(PanelKind.Checks), study);
        Assert.Contains("at most", new AddPanel(PanelKind.Checks).Apply(study).Refusal);
    }

    [Fact]
    public void Sliders_go_from_lower_to_higher_and_keep_to_bounds()
    {
        var slider = SetSlider.For(Study, "beta");
        Assert.Equal((0.1, 1.6), (slider.Low, slider.High));
        var bounded = Study.With(Study.DefinitionBySymbol("beta")! with { Lower = "0.3", Upper = "0.5" });
        Assert.Equal((0.3, 0.5), (SetSlider.For(bounded, "beta").Low, SetSlider.For(bounded, "beta").High));
        Assert.Equal(0.01, Assert.Single(Made(new SetSlider("beta", 0.2, 0.6, false, 0.01)).Sliders).Step);
        Assert.Contains("step", new SetSlider("beta", 0.2, 0.6, false, 0.5).Apply(Study).Refusal);
        Assert.Contains("step", new SetSlider("beta", 0.2, 0.6, false, -1).Apply(Study).Refusal);
        var study = Made(slider);
        Assert.Equal("beta", Assert.Single(study.Sliders).Address);
        Assert.Equal(2, Assert.Single(Made(new SetSlider("beta", 0.2, 2, true), study).Sliders).High);
        Assert.Contains("lower to a higher", new SetSlider("beta", 2, 1, false).Apply(study).Refusal);
        Assert.Contains("above zero", new SetSlider("beta", 0, 1, true).Apply(study).Refusal);
        Assert.Contains("no value", new SetSlider("nothing", 0, 1, false).Apply(study).Refusal);
        Assert.Empty(Made(new RemoveSlider("beta"), study).Sliders);
    }

    [Fact]
    public void Values_taken_over_say_where_they_come_from()
    {
        var guessed = Made(new AdoptValues(new Dictionary<ValueAddress, double> { ["beta"] = 0.31 }, Origin.Guess));
        Assert.Equal(
            ("0.31 per day", Origin.Guess),
            (guessed.DefinitionBySymbol("beta")!.Text, guessed.DefinitionBySymbol("beta")!.Origin)
        );
        Assert.Equal(
            Origin.Fitted,
            Made(new AdoptValues(new Dictionary<ValueAddress, double> { ["beta"] = 0.31 })).DefinitionBySymbol("beta")!.Origin
        );
    }
}
