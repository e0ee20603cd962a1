using ClearTide.Core.Ensembles;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Ensembles;

/// <summary>Formulas over the runs of a projection, scenario by scenario.</summary>
public class ProjectedFormulaTests
{
    /// <summary>40 units leave at 0.1 a day over 10 days; one scenario lets them go twice as fast.</summary>
    private static StudyDocument Study()
    {
        var document = Studies.Of("A -> B at k; k = 0.1 per day; A(0) = 40", 10);
        document = new AddScenario("Haste").Apply(document).Document!;
        return new SetMeasure(document.Scenarios[0].Id, null, "Haste", "k", 2, 0, 10).Apply(document).Document!;
    }

    private static Projection Of(StudyDocument document, int replicates, params string[] formulas) =>
        new(
            document,
            null,
            new(replicates, 5, new Dictionary<ValueAddress, double>()) { Of = document.Compartments[0].Id, Formulas = formulas }
        );

    private static ProjectionSummary Made(Projection projection) => ProjectionSummary.Made(projection, "", 5, projection.Run(2));

    [Fact]
    public void A_statement_has_its_share_in_each_scenario_and_its_paired_difference()
    {
        const int replicates = 3000;
        var made = Made(Of(Study(), replicates, "end(A) <= 12", "total(flow(A, B))", "first_time(A < 1)"));
        double Law(double rate) => Binomial.CDF(Math.Exp(-10 * rate), 40, 12);
        foreach (var (scenario, rate) in made.Scenarios.Zip([0.1, 0.2]))
        {
            var statement = scenario.Outcomes[3];
            Assert.Equal((ProjectedOutcome.Formula, "end(A) <= 12"), (statement.Kind, statement.Formula));
            // 4.5 standard errors.
            Assert.Equal(Law(rate), statement.Share!.Value.Share, 4.5 * Math.Sqrt(Law(rate) * (1 - Law(rate)) / replicates));
            var gone = scenario.Outcomes[4];
            Assert.Null(gone.Share);
            Assert.InRange(gone.Value.Median, 40 * (1 - Math.Exp(-10 * rate)) - 1, 40 * (1 - Math.Exp(-10 * rate)) + 1);
        }
        var difference = made.Scenarios[1].Outcomes[3].ShareDifference!.Value;
        Assert.Null(made.Scenarios[0].Outcomes[3].ShareDifference);
        Assert.Equal(
            made.Scenarios[1].Outcomes[3].Share!.Value.Share - made.Scenarios[0].Outcomes[3].Share!.Value.Share,
            difference.Share,
            1e-9
        );
        // Its interval is that of the mean of paired differences, which lie at most 1 apart: half a width of 1.96 standard errors.
        Assert.InRange(difference.High - difference.Low, 1e-4, 2 * 1.96 / Math.Sqrt(replicates));
        Assert.InRange(Law(0.2) - Law(0.1), difference.Low - 0.02, difference.High + 0.02);
        // Of 40 units some are left after ten days in most runs: what never happens has no time.
        Assert.InRange(made.Scenarios[0].Outcomes[5].Having, 0, 0.01);
    }

    [Fact]
    public void What_an_interrupted_projection_had_come_to_holds_its_formulas()
    {
        var projection = Of(Study(), 60, "peak(B) > 20", "end(B)");
        byte[]? packed = null;
        var watch = new ProjectionWatch { SoFar = (_, far) => packed ??= far };
        var whole = Made(projection);
        projection.Run(1, watch);
        Assert.NotNull(packed);
        var tally = projection.Run(2, new ProjectionWatch { From = packed });
        var again = ProjectionSummary.Made(projection, "", 5, tally);
        foreach (var (one, other) in whole.Scenarios.Zip(again.Scenarios))
            Assert.Equal(one.Outcomes.Select(outcome => (outcome.Value, outcome.Share)), other.Outcomes.Select(o => (o.Value, o.Share)));
    }

    [Fact]
    public void Without_chance_a_statement_is_true_or_false_of_the_one_run()
    {
        var document = Study();
        var request = new ProjectionRequest(5, 1, new Dictionary<ValueAddress, double>())
        {
            Of = document.Compartments[0].Id,
            Chance = ProjectionChance.None,
            Formulas = ["end(A) < 10", "end(A)"],
        };
        var made = Made(new(document, null, request));
        // 40 exp(-1) = 14.7 are left, or 40 exp(-2) = 5.4.
        Assert.Equal((0, 1), (made.Scenarios[0].Outcomes[3].Share!.Value.Share, made.Scenarios[1].Outcomes[3].Share!.Value.Share));
        // Bins of broken numbers are a two-thousandth wide.
        Assert.Equal(40 * Math.Exp(-1), made.Scenarios[0].Outcomes[4].Value.Median, 0.01);
    }

    [Fact]
    public void What_cannot_be_read_is_refused_in_words_and_formulas_are_part_of_the_content()
    {
        var document = Study();
        Assert.Contains("changes along a run", Assert.Throws<ProjectionRefusedException>(() => Of(document, 3, "A > 4")).Message);
        Assert.Contains(
            "at most 6 formulas",
            Assert.Throws<ProjectionRefusedException>(() => Of(document, 3, [.. Enumerable.Repeat("end(A)", 7)])).Message
        );
        var request = new ProjectionRequest(3, 1, new Dictionary<ValueAddress, double>()) { Of = document.Compartments[0].Id };
        Assert.NotEqual(
            Projection.Fingerprint(document, null, request),
            Projection.Fingerprint(document, null, request with { Formulas = ["end(A)"] })
        );
    }
}
