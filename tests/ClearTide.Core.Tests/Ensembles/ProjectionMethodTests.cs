using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Ensembles;

/// <summary>The methods by which projections move units, against exact laws, and how their replicates are counted.</summary>
public class ProjectionMethodTests
{
    private static readonly Dictionary<ValueAddress, double> None = [];

    /// <summary>What leaves half a day of 400 at 0.1 a day, with a scenario in which it leaves half as fast from day 5 on.</summary>
    private static StudyDocument Study(double start = 400)
    {
        var document = Studies.Of($"A(0) = {start}; A -> at k; k = 0.1", 10);
        document = new AddScenario("Slower").Apply(document).Document!;
        return new SetMeasure(document.Scenarios[0].Id, null, "Slower", "k", 0.5, 5, 10).Apply(document).Document!;
    }

    private static ProjectionSummary Made(StudyDocument document, ProjectionRequest request, Series? series = null)
    {
        var projection = new Projection(document, series, request);
        return ProjectionSummary.Made(projection, "f", request.Seed, projection.Run(2));
    }

    [Theory]
    [InlineData(ProjectionChance.Exact)]
    [InlineData(ProjectionChance.Leap)]
    [InlineData(ProjectionChance.ChainBinomial)]
    public void What_is_left_is_binomial_by_each_method(ProjectionChance chance)
    {
        var document = Study();
        const int n = 2000;
        var request = new ProjectionRequest(n, 3, None) { Of = document.Compartments[0].Id, Chance = chance };
        var projection = new Projection(document, null, request);
        Assert.Equal(chance, projection.Method);
        var tally = projection.Run(2);
        foreach (var (scenario, share) in new[] { (0, Math.Exp(-1)), (1, Math.Exp(-0.75)) })
        {
            var left = tally.Scenarios[scenario].Intervals[^1];
            var (mean, variance) = (400 * share, 400 * share * (1 - share));
            // Four standard errors of a mean and of a variance of 2000; leaps keep their share of 3 % of a change.
            var bias = chance == ProjectionChance.Leap ? 0.02 * mean : 0;
            Assert.Equal(mean, left.Mean, 4 * Math.Sqrt(variance / n) + bias);
            Assert.Equal(1, left.Deviation * left.Deviation / variance, 4 * Math.Sqrt(2.0 / n) + (bias > 0 ? 0.1 : 0));
        }
    }

    [Fact]
    public void Without_chance_each_scenario_is_its_curve()
    {
        var document = Study();
        var made = Made(document, new ProjectionRequest(50, 3, None) { Of = document.Compartments[0].Id, Chance = ProjectionChance.None });
        // Nothing else is uncertain: one run says all.
        Assert.Equal(1, made.Replicates);
        // The solver holds 1e-8 of amounts of 400, and bins a two-thousandth.
        Assert.Equal(400 * Math.Exp(-1), made.Scenarios[0].Runs[0][^1], 1e-4);
        Assert.Equal(400 * Math.Exp(-0.75), made.Scenarios[1].Runs[0][^1], 1e-4);
        // What leaves within an interval is what is there at its start, less what is there at its end.
        var flow = Made(document, new ProjectionRequest(1, 3, None) { Of = document.Flows[0].Id, Chance = ProjectionChance.None });
        var (from, until) = (flow.Times[3], flow.Times[4]);
        Assert.Equal(400 * (Math.Exp(-0.1 * from) - Math.Exp(-0.1 * until)), flow.Scenarios[0].Runs[0][3], 1e-4);
    }

    [Fact]
    public void Without_chance_a_projection_goes_on_from_where_data_end_with_what_is_still_to_happen()
    {
        // A dose on day 2 has been, one on day 6 is to come; both are in the amounts, and neither is counted twice.
        var document = Studies.Of("A(0) = 100; A -> at 0.1; at 2: -> A : 50; at 6: -> A : 20", 10);
        var rows = new DataSet("d", "gone", [new(0, 1, 9), new(1, 2, 9), new(2, 3, 9)]);
        var series = new Series(new("o", "d", "Gone", document.Flows[0].Id, "1"), rows);
        var made = Made(
            document,
            new ProjectionRequest(1, 3, None) { Of = document.Compartments[0].Id, Chance = ProjectionChance.None },
            series
        );
        Assert.Equal(3, made.Now);
        var at = made.Times.ToList().FindIndex(time => time >= 7);
        double Left(double t) => 100 * Math.Exp(-0.1 * t) + 50 * Math.Exp(-0.1 * (t - 2)) + 20 * Math.Exp(-0.1 * (t - 6));
        Assert.Equal(Left(made.Times[at]), made.Scenarios[0].Runs[0][at - 1], 1e-4);
    }

    [Fact]
    public void Without_chance_replicates_differ_by_what_a_fit_left_uncertain()
    {
        var document = Studies.Of("A(0) = 1000; A -> at k; k = 0.1", 10);
        var spread = new EstimateSpread([new("k", Math.Log(0.1), true, Math.Log(1e-6), Math.Log(10))], [0.05]);
        var made = Made(
            document,
            new ProjectionRequest(4000, 3, None)
            {
                Of = document.Compartments[0].Id,
                Chance = ProjectionChance.None,
                Spread = spread,
            }
        );
        // The rate is log-normal, and what is left falls with it: quantiles are those of the rate, carried over.
        double At(double z) => 1000 * Math.Exp(-10 * 0.1 * Math.Exp(0.05 * z));
        var band = made.Scenarios[0].Intervals[^1];
        // Three standard errors of a quantile of 4000 near 5 % are a tenth of a deviation; bins hold a two-thousandth.
        Assert.Equal(At(1.645), band.P5, 2.5);
        Assert.Equal(At(0), band.Median, 1.5);
        Assert.Equal(At(-1.645), band.P95, 2.5);
    }

    [Fact]
    public void Each_replicate_is_another_subject_and_the_same_one_in_each_scenario()
    {
        var document = Study(1000);
        var made = Made(
            document,
            new ProjectionRequest(4000, 3, None)
            {
                Of = document.Compartments[0].Id,
                Chance = ProjectionChance.None,
                Subjects = new(1, [new("k", VariationLaw.LogNormal, 0.3)], []),
                Formulas = ["end(A)"],
            }
        );
        // The rate is log-normal about 0.1 with a coefficient of variation of 0.3, and what is left falls with it. In the scenario five of
        // the ten days pass at half the rate.
        var deviation = Math.Sqrt(Math.Log(1 + 0.3 * 0.3));
        double At(double z, double days) => 1000 * Math.Exp(-days * 0.1 * Math.Exp(deviation * z));
        foreach (var (scenario, days) in new[] { (0, 10.0), (1, 7.5) })
        {
            var band = made.Scenarios[scenario].Intervals[^1];
            // Three standard errors of a quantile of 4000: 0.1 of a deviation near 5 %, 0.06 in the middle.
            double Near(double z, double errors) => Math.Abs(At(z + errors, days) - At(z - errors, days)) / 2;
            Assert.Equal(At(1.645, days), band.P5, Near(1.645, 0.1));
            Assert.Equal(At(0, days), band.Median, Near(0, 0.06));
            Assert.Equal(At(-1.645, days), band.P95, Near(-1.645, 0.1));
        }
        // Paired: a subject gains by the scenario, whoever it is, and at most what e^(−7.5 k) − e^(−10 k) can be, where e^(2.5 k) is 4/3.
        // Unpaired runs of people so different would often say otherwise.
        var gain = made.Scenarios[1].Outcome(ProjectedOutcome.Formula).Difference!;
        Assert.True(gain.P5 > 0);
        Assert.InRange(gain.P95, gain.P5, 1000 * (Math.Pow(0.75, 3) - Math.Pow(0.75, 4)) + 1);
    }

    [Fact]
    public void Replicates_are_counted_the_same_however_work_is_cut_and_after_an_interruption()
    {
        var document = Study();
        var request = new ProjectionRequest(100, 3, None) { Of = document.Compartments[0].Id, Level = 200 };
        var projection = new Projection(document, null, request);
        byte[] Packed(ProjectionTally tally) => tally.Pack()!;
        string Told(ProjectionTally tally) => System.Text.Json.JsonSerializer.Serialize(ProjectionSummary.Made(projection, "f", 3, tally));
        var whole = Told(projection.Run(1));
        Assert.Equal(whole, Told(projection.Run(2)));
        Assert.Equal(whole, Told(projection.Run(8)));
        // As far as an earlier run had come, with nothing lost and nothing counted twice.
        byte[]? half = null;
        using var stop = new CancellationTokenSource();
        Assert.Throws<OperationCanceledException>(() =>
            projection.Run(
                1,
                new()
                {
                    SoFar = (_, packed) =>
                    {
                        half = packed;
                        stop.Cancel();
                    },
                },
                stop.Token
            )
        );
        Assert.NotNull(half);
        Assert.Equal(whole, Told(projection.Run(2, new() { From = half! })));
        Assert.NotEmpty(Packed(projection.Run(1)));
        // What is of another projection is not taken up.
        var other = new Projection(document, null, request with { Replicates = 10 });
        Assert.Equal(10, other.Run(1, new() { From = half! }).Replicates);
        Assert.Equal(100, projection.Run(1, new() { From = [1, 2, 3] }).Replicates);
    }

    [Fact]
    public void What_was_told_on_the_way_stays_as_it_was_told()
    {
        var document = Study();
        var projection = new Projection(document, null, new(64, 3, None) { Of = document.Compartments[0].Id });
        (ProjectionSummary Summary, string Text)? told = null;
        projection.Run(1, new() { SoFar = (summary, _) => told ??= (summary, System.Text.Json.JsonSerializer.Serialize(summary)) });
        // It is read from another thread while more replicates come: nothing of it may be theirs.
        Assert.NotNull(told);
        Assert.Equal(told.Value.Text, System.Text.Json.JsonSerializer.Serialize(told.Value.Summary));
        var none = new ProjectionTally(projection);
        var summary = ProjectionSummary.Made(projection, "", 1, none);
        none.Add(Enumerable.Range(0, 2).Select(scenario => projection.CreateWorker().Run(scenario, 0, default)).ToList());
        Assert.Empty(summary.Scenarios[0].Runs);
    }

    [Fact]
    public void A_level_is_exceeded_as_often_as_the_law_says()
    {
        var document = Study();
        const int n = 4000;
        var made = Made(document, new ProjectionRequest(n, 5, None) { Of = document.Compartments[0].Id, Level = 250 });
        var baseline = made.Scenarios[0];
        var k = made.Times.ToList().FindIndex(time => time > 4.6) - 1;
        // Binomial, by its normal limit with the half that whole numbers ask for.
        var share = Math.Exp(-0.1 * made.Times[k + 1]);
        var above = 1 - MathNet.Numerics.Distributions.Normal.CDF(400 * share, Math.Sqrt(400 * share * (1 - share)), 250.5);
        // Four standard errors, and a hundredth for the limit.
        Assert.Equal(above, baseline.Above[k], 4 * Math.Sqrt(above * (1 - above) / n) + 0.01);
        Assert.Equal(1, baseline.EverAbove);
        // It is above from the first interval on, and goes below for good where it is 250.
        // Bins hold a two-thousandth.
        Assert.Equal(made.Times[1], baseline.Outcome(ProjectedOutcome.FirstAbove).Value.Median, made.Times[1] / 2000);
        Assert.InRange(baseline.Outcome(ProjectedOutcome.TimeAbove).Value.Median, 10 * Math.Log(1.6) - 0.3, 10 * Math.Log(1.6) + 0.3);
        var never = Made(document, new ProjectionRequest(10, 5, None) { Of = document.Compartments[0].Id, Level = 900 }).Scenarios[0];
        Assert.Equal(0, never.EverAbove);
        Assert.Equal(0, never.Outcome(ProjectedOutcome.FirstAbove).Having);
    }

    [Fact]
    public void What_has_ended_is_told_apart()
    {
        // Three that leave at one a day: gone by day 2 with the third power of 1 − e^−2.
        var document = Studies.Of("A(0) = 3; A -> at 1", 2);
        const int n = 3000;
        var one = Made(document, new ProjectionRequest(n, 5, None) { Of = document.Compartments[0].Id }).Scenarios[0];
        var gone = Math.Pow(1 - Math.Exp(-2), 3);
        Assert.Equal(gone, one.Gone, 4 * Math.Sqrt(gone * (1 - gone) / n));
        Assert.NotNull(one.PeakOfGone);
        Assert.NotNull(one.PeakOfOthers);
        Assert.Equal(n, one.Outcome(ProjectedOutcome.Total).Spread!.Counts.Sum());
    }

    [Fact]
    public void A_large_population_leaps_by_itself_and_says_so()
    {
        var document = Study(4e7);
        var projection = new Projection(document, null, new ProjectionRequest(200, 1, None) { Of = document.Compartments[0].Id });
        Assert.Equal(ProjectionChance.Leap, projection.Method);
        Assert.Contains("many at a time", projection.Why);
        Assert.Contains(
            "one by one",
            new Projection(Study(), null, new ProjectionRequest(200, 1, None) { Of = document.Compartments[0].Id }).Why
        );
    }

    [Fact]
    public void What_a_method_cannot_do_is_refused_in_words()
    {
        string Refusal(StudyDocument document, ProjectionRequest request) =>
            Assert
                .Throws<ProjectionRefusedException>(() => new Projection(document, null, request with { Of = document.Compartments[0].Id }))
                .Message;
        var request = new ProjectionRequest(10, 1, None);
        Assert.Contains("above zero", Refusal(Study(), request with { Chance = ProjectionChance.ChainBinomial, Step = 0 }));
        Assert.Contains("longer ones", Refusal(Study(), request with { Chance = ProjectionChance.ChainBinomial, Step = 1e-9 }));
        Assert.Contains("A level is a number", Refusal(Study(), request with { Level = double.NaN }));
        Assert.Contains("1,000,000 replicates", Refusal(Study(), request with { Replicates = 1_000_001 }));
    }

    [Fact]
    public void A_projection_from_an_earlier_now_is_held_against_what_came_since()
    {
        var document = Study();
        var seen = new Observation("o", "d", "Gone", document.Flows[0].Id, "1");
        var rows = Enumerable
            .Range(0, 10)
            .Select(k => new DataRow(k, k + 1, k < 9 ? 400 * (Math.Exp(-0.1 * k) - Math.Exp(-0.1 * (k + 1))) : 500));
        IReadOnlyList<Series> all = [new(seen, new("d", "gone", [.. rows]))];
        var early = ProjectionSources.AsOf(all, 4);
        Assert.Equal(4, early[0].Data.Rows.Count);
        var made = Made(document, new ProjectionRequest(1000, 1, None) { AsOf = 4 }, early[0]);
        Assert.Equal(4, made.Now);
        var held = HeldAgainst.Of(made, all[0].Data.Rows)!;
        // Six rows came since: five as expected, and one that nothing expects.
        Assert.Equal((6, 5, 5), (held.Rows, held.Within50, held.Within90));
        // The score of a forecast far off is how far, less half of what its draws are apart (Gneiting and Raftery, section 4.2).
        Assert.InRange(6 * held.Crps, 470, 495);
        Assert.Null(HeldAgainst.Of(made, early[0].Data.Rows));
    }
}
