using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Interventions;

/// <summary>Scenarios that have the measures of others besides their own.</summary>
public class BuildsOnTests
{
    /// <summary>Units leave at 0.1 a day over 20 days: Slow halves that, Shots moves ten at day 5, Both has both and a third.</summary>
    private static StudyDocument Study()
    {
        var document = Studies.Of("A -> B at k; k = 0.1 per day; V -> : 0 * V; A(0) = 100", 20);
        foreach (
            var (name, line, cost) in new[]
            {
                ("Slow", "k x 0.5, days 0 to 20", "2 per day"),
                ("Shots", "at 5: A -> V : 10", "1 each"),
                ("Both", "at 10: A -> V : 5", "7"),
            }
        )
        {
            document = Studies.With(document, new AddScenario(name));
            document = Studies.With(document, new AddMeasureLine(document.Scenarios[^1].Id, line));
            var made = document.Scenarios[^1];
            document = Studies.With(document, new SetCost(made.Id, made.Measures.FirstOrDefault()?.Id ?? made.Rules[0].Id, cost));
        }
        return Studies.With(document, new SetBuildsOn(document.Scenarios[2].Id, [document.Scenarios[0].Id, document.Scenarios[1].Id]));
    }

    private static IReadOnlyList<ScenarioCurve> Runs(StudyDocument document) =>
        ScenarioRuns
            .Of(
                Lowering.Lower(document),
                document.Compartments[0].Id,
                double.NegativeInfinity,
                ImmutableDictionary<ValueAddress, double>.Empty
            )
            .Curves;

    [Fact]
    public void It_does_what_they_do_and_costs_what_they_cost()
    {
        var curves = Runs(Study());
        // At half the rate: what is moved at days 5 and 10 is missing from what is left, worn off since.
        var left = 100 * Math.Exp(-1) - 10 * Math.Exp(-0.75) - 5 * Math.Exp(-0.5);
        Assert.Equal(left, curves[3].Outcomes!.Final, 1e-5);
        Assert.Equal(2 * 20 + 10 + 7, curves[3].Cost, 1e-9);
        Assert.Equal(100 * Math.Exp(-1), curves[1].Outcomes!.Final, 1e-5);
    }

    [Fact]
    public void It_follows_them_when_they_change_are_off_or_are_removed()
    {
        var document = Study();
        var off = Studies.With(document, new SwitchScenario(document.Scenarios[0].Id, true));
        Assert.Equal(["Baseline", "Shots", "Both"], Runs(off).Select(curve => curve.Name));
        Assert.Equal(Runs(document)[3].Outcomes!.Final, Runs(off)[2].Outcomes!.Final);
        var without = Studies.With(document, new RemoveScenario(document.Scenarios[0].Id));
        Assert.Equal([document.Scenarios[1].Id], without.Scenarios[1].BuildsOn);
        Assert.Equal(100 * Math.Exp(-2) - 10 * Math.Exp(-1.5) - 5 * Math.Exp(-1), Runs(without)[2].Outcomes!.Final, 1e-5);
        var copy = Studies.With(document, new DuplicateScenario(document.Scenarios[2].Id)).Scenarios[3];
        Assert.Equal(document.Scenarios[2].BuildsOn, copy.BuildsOn);
    }

    [Fact]
    public void What_several_build_on_is_done_once_and_circles_are_refused()
    {
        var document = Study();
        document = Studies.With(document, new AddScenario("All"));
        document = Studies.With(document, new SetBuildsOn(document.Scenarios[3].Id, [document.Scenarios[1].Id, document.Scenarios[2].Id]));
        Assert.Equal(2, document.Whole(document.Scenarios[3]).Rules.Length);
        Assert.Equal(Runs(document)[3].Outcomes!.Final, Runs(document)[4].Outcomes!.Final);
        var refusal = new SetBuildsOn(document.Scenarios[0].Id, [document.Scenarios[3].Id]).Apply(document).Refusal;
        Assert.Equal("“All” builds on “Slow” already. One of the two goes without the other.", refusal);
        Assert.Contains("itself", new SetBuildsOn(document.Scenarios[0].Id, [document.Scenarios[0].Id]).Apply(document).Refusal);
        // A file may say what no edit would: it ends all the same.
        var circle = document with
        {
            Scenarios = document.Scenarios.SetItem(0, document.Scenarios[0] with { BuildsOn = [document.Scenarios[3].Id] }),
        };
        Assert.Equal(2, circle.Whole(circle.Scenarios[3]).Rules.Length);
    }

    [Fact]
    public void Projections_have_it_and_their_content_hangs_on_it()
    {
        var document = Study();
        var request = new ProjectionRequest(30, 3, new Dictionary<ValueAddress, double>()) { Of = document.Compartments[0].Id };
        var made = new Projection(document, null, request);
        Assert.Equal(2, made.Rules(3).Count);
        Assert.Equal(57, ProjectionSummary.Made(made, "", 3, made.Run(1)).Scenarios[3].Outcome(ProjectedOutcome.Cost).Value.Median);
        var apart = Studies.With(document, new SetBuildsOn(document.Scenarios[2].Id, []));
        Assert.NotEqual(Projection.Fingerprint(document, null, request), Projection.Fingerprint(apart, null, request));
    }
}
