using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Analysis;

/// <summary>Numbers and times as they are typed into panels.</summary>
public class TypedNumberTests
{
    [Theory]
    [InlineData("0.2, 0.3, 0.5", new[] { 0.2, 0.3, 0.5 })]
    [InlineData("0.2,0.3", new[] { 0.2, 0.3 })]
    [InlineData("1, 2, 3", new[] { 1.0, 2, 3 })]
    [InlineData("1 2 3", new[] { 1.0, 2, 3 })]
    [InlineData("0,2; 0,3; 1", new[] { 0.2, 0.3, 1 })]
    [InlineData("0,2 0,3", new[] { 0.2, 0.3 })]
    [InlineData("1e3; 2,5e-1", new[] { 1000, 0.25 })]
    public void Lists_are_read_with_points_and_with_commas(string typed, double[] values) =>
        Assert.Equal(values, NumberList.Read(typed).Values);

    [Theory]
    [InlineData("0,2")]
    [InlineData("0,2,0,3")]
    [InlineData("1,2,3")]
    [InlineData("0,2, 0,3")]
    public void A_comma_that_may_mean_either_is_asked_about_and_splits_nothing(string typed)
    {
        Assert.Contains("one number or several", NumberList.Read(typed).Problem);
        Assert.Contains("one number or several", ValueSteps.Read(Spacing.List, "", "", "", typed).Problem);
    }

    [Theory]
    [InlineData("", 1)]
    [InlineData("2", 2)]
    [InlineData("1 hour", 1 / 24.0)]
    [InlineData("30 minutes", 1 / 48.0)]
    [InlineData("0.25 days", 0.25)]
    [InlineData("1 week", 7)]
    public void Rows_stand_a_number_or_a_length_of_time_apart(string typed, double every)
    {
        var (read, problem) = TableTimes.Every(Studies.Of("A(0) = 1; A -> at 0.1", 150), typed);
        Assert.Null(problem);
        Assert.Equal(every, read, 1e-12);
    }

    [Theory]
    [InlineData("-1", "above zero")]
    [InlineData("0", "above zero")]
    [InlineData("often", "no length of time")]
    [InlineData("3 kg", "no length of time")]
    [InlineData("3 fathomz", "no unit")]
    [InlineData("1 second", "is the limit")]
    public void What_is_no_spacing_is_said(string typed, string words)
    {
        var document = Studies.Of("A(0) = 1; A -> at 0.1", 150);
        Assert.Contains(words, TableTimes.Every(document, typed).Problem);
        document = new AddPanel(PanelKind.Table).Apply(document).Document!;
        Assert.Contains(words, new SetPanel(document.Panels[^1].Id, "every", typed).Apply(document).Refusal);
    }

    [Fact]
    public void Times_of_rows_have_no_digits_that_sums_leave()
    {
        var document = Studies.Of("A(0) = 1; A -> at 0.1", 1);
        Assert.Equal([0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1], TableTimes.Of(document, 0.1));
        Assert.Equal(25, TableTimes.Of(document, TableTimes.Every(document, "1 hour").Every).Length);
    }

    [Fact]
    public void A_run_at_other_times_is_what_it_is_there()
    {
        // exp(-0.5 t) by its own formula, at a tolerance of 1e-8: between points of curves a straight line would miss it by 1e-4.
        var run = StudyRun.Of(Studies.Of("A(0) = 100; A -> at 0.5", 40));
        double[] times = [0, 0.37, 1.91, 33.3];
        var there = run.At(times).Run!;
        Assert.Equal(times, there.Times);
        for (var k = 0; k < times.Length; k++)
            Assert.Equal(100 * Math.Exp(-0.5 * times[k]), there.Amount(k, 0), 1e-5);
    }

    [Fact]
    public void Ends_of_an_axis_that_cross_are_refused()
    {
        var document = Studies.Of("A(0) = 1; A -> at 0.1");
        document = new AddPanel(PanelKind.Curves).Apply(document).Document!;
        var id = document.Panels[^1].Id;
        document = new SetPanel(id, "maximum", "5").Apply(document).Document!;
        Assert.Contains("cannot go from 10 to 5", new SetPanel(id, "minimum", "10").Apply(document).Refusal);
        Assert.Contains(
            "above zero",
            new SetPanel(id, "log", "true").Apply(new SetPanel(id, "minimum", "-1").Apply(document).Document!).Refusal
        );
        Assert.Contains("whole number", new SetPanel(id, "digits", "many").Apply(document).Refusal);
    }

    [Fact]
    public void Computed_curves_are_quantities_where_a_model_is_run_anew()
    {
        var document = Studies.Of("A(0) = 90; B(0) = 10; A -> B at 0.1 per day; k = 2");
        var panel = new Panel("x1", PanelKind.Sweep) { Formulas = "share = B / (A + B)\nk = 3", Of = ComputedCurves.IdOf("share") };
        var (with, problem) = PanelFormulas.Added(document, panel);
        Assert.Contains("“k” is a symbol of the model already", problem);
        var run = StudyRun.Of(with).Run!;
        // B / (A + B) = 1 - 0.9 exp(-0.1 t).
        Assert.Equal(
            1 - 0.9 * Math.Exp(-10),
            run.QuantityColumn(run.Network.Quantities.ToList().FindIndex(one => one.PartId == "=share"))[^1],
            1e-8
        );
        var plane = PhasePlane.Of(Lowering.Lower(with), "=share", document.Compartments[0].Id, [], default);
        Assert.Equal(0.1, plane.Paths[0].X[0], 1e-12);
        Assert.Contains("flow", PanelFormulas.Added(document, panel with { Formulas = "f = flow(A, B)" }).Problem);
    }
}
