using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Reports;

/// <summary>The unit of a series against that of what it has seen.</summary>
public class SeriesUnitTests
{
    private static readonly StudyDocument Study = Studies.Of(
        "G -> C at 0.6 per hour; C -> at CL / V; G(0) = 100 mg; C(0) = 0 mg; CL = 3 L/hour; V = 30 L; conc = C / V; share = C / 100 mg",
        24
    ) with
    {
        TimeUnit = TimeUnit.Hour,
    };

    private static Observation Seen(string formula, string unit, ObservedAs seen = ObservedAs.Standing) =>
        new("o", "d", "Level", seen == ObservedAs.Flowed ? Study.Flows[0].Id : "", "1")
        {
            Seen = seen,
            Formula = formula,
            Unit = unit,
        };

    [Theory]
    [InlineData("conc", "mg/L", 1)]
    [InlineData("C / V", "mg/L", 1)]
    [InlineData("C / V", "µg/L", 1e-3)]
    [InlineData("C / V", "g/L", 1e3)]
    [InlineData("C / V", "µg/mL", 1)]
    [InlineData("C", "g", 1e3)]
    [InlineData("1000 * C / V", "mg/L", 1)]
    [InlineData("C / V", "", 1)]
    public void A_unit_of_another_size_is_converted(string formula, string unit, double factor)
    {
        var units = SeriesUnits.Of(Study, Seen(formula, unit));
        Assert.Null(units.Problem);
        Assert.Equal(factor, units.Factor, 1e-12 * factor);
    }

    [Fact]
    public void Flows_and_integrals_are_in_units_of_their_own()
    {
        // What flows is an amount once it is counted, and an integral of a level is a level times a time.
        Assert.Equal(1e3, SeriesUnits.Of(Study, Seen("", "g", ObservedAs.Flowed)).Factor, 1e-9);
        Assert.Equal(1, SeriesUnits.Of(Study, Seen("conc", "mg*hour/L", ObservedAs.Integral)).Factor, 1e-12);
        Assert.Equal(24, SeriesUnits.Of(Study, Seen("conc", "mg*day/L", ObservedAs.Integral)).Factor, 1e-9);
        Assert.Equal(1, SeriesUnits.Of(Study, Seen("conc", "mg/L", ObservedAs.Mean)).Factor, 1e-12);
    }

    [Theory]
    [InlineData("conc", "hours", "are in hours, and what they have seen is in mg/L")]
    [InlineData("share", "mg/L", "what they have seen is in no unit")]
    [InlineData("conc", "mg/", "cannot be read")]
    public void What_cannot_be_the_same_is_said(string formula, string unit, string words) =>
        Assert.Contains(words, SeriesUnits.Of(Study, Seen(formula, unit)).Problem);

    [Fact]
    public void A_model_whose_unit_changed_afterwards_is_told_of_with_its_data()
    {
        var observation = Seen("conc", "µg/L");
        var document = Study with { Observations = [observation] };
        var run = StudyRun.Of(document, [new(observation, new DataSet("d", "levels", [new(2, 2, 900)]))]);
        Assert.Contains(run.Findings, finding => finding.Message.Contains("Level are in µg/L, and what they have seen is in mg/L now"));
    }
}
