using ClearTide.Core.Compilation;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Interventions;

/// <summary>Studies with one scenario, and the curves that it gives.</summary>
internal static class PlannedStudy
{
    /// <summary>A study of some lines with a scenario of some measures and rules, none of which is refused.</summary>
    public static StudyDocument With(string lines, double end, params string[] rules)
    {
        var document = new AddScenario("Plan").Apply(Studies.Of(lines, end)).Document!;
        foreach (var rule in rules)
        {
            var made = new AddMeasureLine(document.Scenarios[0].Id, rule).Apply(document);
            Assert.Null(made.Refusal);
            document = made.Document!;
        }
        return document;
    }

    /// <summary>One compartment, the first where none is named, under the baseline and under the scenario.</summary>
    public static (ScenarioCurve Baseline, ScenarioCurve Plan, IReadOnlyList<double> Times) Run(
        StudyDocument document,
        double now = double.NegativeInfinity,
        int compartment = 0
    )
    {
        var runs = ScenarioRuns.Of(
            Lowering.Lower(document),
            document.Compartments[compartment].Id,
            now,
            new Dictionary<ValueAddress, double>(),
            TestContext.Current.CancellationToken
        );
        Assert.All(runs.Curves, curve => Assert.Null(curve.Failure));
        return (runs.Curves[0], runs.Curves[1], runs.Times);
    }
}
