using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;

namespace ClearTide.Core.Tests.Ensembles;

public class ProjectionTests
{
    private static readonly DataSet Data = new("d", "cases", [.. Enumerable.Range(0, 7).Select(k => new DataRow(7 * k, 7 * (k + 1), 1))]);

    private static (StudyDocument, Observation) Study(double factor, double end = 140, string people = "18400", string ill = "100")
    {
        var document = Studies.Of(Studies.Latent.Replace("18400", people).Replace("I(0) = 3", $"I(0) = {ill}"), end);
        document = new AddScenario("Pause").Apply(document).Document!;
        document = new SetMeasure(document.Scenarios[0].Id, null, "Pause", "beta", factor, 56, 98).Apply(document).Document!;
        return (document, new("o", "d", "Cases", document.Flows[1].Id, "rho"));
    }

    private static ReplicateCounts[][] Run(Projection projection, int replicates)
    {
        var worker = projection.CreateWorker();
        return
        [
            .. projection.Names.Select(
                (_, scenario) => Enumerable.Range(0, replicates).Select(r => worker.Run(scenario, r, default)).ToArray()
            ),
        ];
    }

    private static ProjectionTally Tallied(Projection projection, ReplicateCounts[][] counts)
    {
        var tally = new ProjectionTally(projection);
        for (var r = 0; r < counts[0].Length; r++)
            tally.Add([.. counts.Select(scenario => scenario[r])]);
        return tally;
    }

    [Fact]
    public void A_measure_that_changes_nothing_gives_the_runs_of_the_baseline()
    {
        var (document, observation) = Study(1);
        var counts = Run(new(document, new(observation, Data), new(5, 3, new Dictionary<ValueAddress, double>())), 5);
        for (var r = 0; r < 5; r++)
            Assert.Equal(counts[0][r].Observed, counts[1][r].Observed);
    }

    [Fact]
    public void Given_up_it_begins_no_further_run()
    {
        var (document, observation) = Study(1);
        var projection = new Projection(document, new(observation, Data), new(200, 3, new Dictionary<ValueAddress, double>()));
        using var giveUp = new CancellationTokenSource();
        var made = 0;
        Assert.Throws<OperationCanceledException>(() =>
            projection.Run(
                2,
                new()
                {
                    Progress = _ =>
                    {
                        Interlocked.Increment(ref made);
                        giveUp.Cancel();
                    },
                },
                giveUp.Token
            )
        );
        // One block on each thread was under way.
        Assert.InRange(made, 1, 2);
    }

    [Fact]
    public void Before_its_window_a_scenario_shares_its_chance_with_the_baseline()
    {
        var (document, observation) = Study(0.5);
        var counts = Run(new(document, new(observation, Data), new(5, 3, new Dictionary<ValueAddress, double>())), 5);
        for (var r = 0; r < 5; r++)
        {
            // The window opens at 56, one week after the data end at 49.
            Assert.Equal(counts[0][r].Observed[0], counts[1][r].Observed[0]);
            Assert.NotEqual(counts[0][r].Observed, counts[1][r].Observed);
        }
    }

    [Fact]
    public void A_replicate_can_be_drawn_again_alone()
    {
        var (document, observation) = Study(0.5);
        var projection = new Projection(document, new(observation, Data), new(9, 3, new Dictionary<ValueAddress, double>()));
        var all = Run(projection, 9);
        Assert.Equal(all[1][7].Observed, projection.CreateWorker().Run(1, 7, default).Observed);
    }

    [Fact]
    public void The_mean_of_a_large_population_follows_the_mean_field()
    {
        var (document, observation) = Study(1);
        const int replicates = 60;
        var projection = new Projection(document, new(observation, Data), new(replicates, 11, new Dictionary<ValueAddress, double>()));
        var counts = Run(projection, replicates)[0];
        var mean = new ObservedModel(
            Lowering.Lower(document),
            [new(observation, new("m", "m", [.. Enumerable.Range(7, 13).Select(k => new DataRow(7 * k, 7 * (k + 1), 0))]))],
            []
        )
            .Predict([])
            .Mean;
        for (var k = 0; k < 5; k++)
        {
            // Relative spread of one replicate is below 0.1 here; a finite population adds a bias of order 1/N.
            Assert.Equal(mean[k], counts.Average(run => run.Observed[k]), mean[k] * 5 * 0.1 / Math.Sqrt(replicates));
        }
    }

    [Fact]
    public void Outcomes_come_from_replicates_and_differences_are_paired()
    {
        var (document, observation) = Study(0.5);
        var projection = new Projection(document, new(observation, Data), new(40, 3, new Dictionary<ValueAddress, double>()));
        var counts = Run(projection, 40);
        var summary = ProjectionSummary.Made(projection, "f", 3, Tallied(projection, counts));
        var peaks = counts[1].Select((run, r) => run.Observed.Max() - counts[0][r].Observed.Max()).Order().ToArray();
        Assert.Equal((peaks[19] + peaks[20]) / 2, summary.Scenarios[1].Outcome(ProjectedOutcome.Peak).Difference!.Median, 1e-9);
        Assert.Null(summary.Scenarios[0].Outcome(ProjectedOutcome.Peak).Difference);
        Assert.Equal((double)peaks.Count(peak => peak < 0) / 40, summary.Scenarios[1].Outcome(ProjectedOutcome.Peak).Lower);
        // The spread of a difference follows from how its sides go together: var(b - a) = var(a) + var(b) - 2 cov(a, b).
        var (a, b) = (counts[0].Select(run => run.Observed.Sum()).ToArray(), counts[1].Select(run => run.Observed.Sum()).ToArray());
        var (meanA, meanB) = (a.Average(), b.Average());
        var both = a.Zip(b, (x, y) => (A: (x - meanA) * (x - meanA), B: (y - meanB) * (y - meanB), Together: (x - meanA) * (y - meanB)))
            .ToList();
        Assert.Equal(Math.Sqrt(1 - 2 * both.Sum(one => one.Together) / both.Sum(one => one.A + one.B)), summary.Narrowing[1]!.Value, 1e-9);
        Assert.True(both.Sum(one => one.Together) > 0, "what shares its chance goes together");
    }

    [Fact]
    public void A_measure_that_changes_nothing_leaves_no_spread_in_its_difference()
    {
        var (document, observation) = Study(1);
        var projection = new Projection(document, new(observation, Data), new(10, 3, new Dictionary<ValueAddress, double>()));
        Assert.Equal(0, ProjectionSummary.Made(projection, "f", 3, projection.Run(2)).Narrowing[1]);
    }

    [Fact]
    public void What_cannot_be_projected_is_refused_in_words()
    {
        var (document, observation) = Study(0.5, end: 49);
        string Refusal(StudyDocument study, int replicates = 5) =>
            Assert
                .Throws<ProjectionRefusedException>(() =>
                    new Projection(
                        study,
                        new(observation, Data),
                        new(replicates, 1, new Dictionary<ValueAddress, double>()) { Chance = ProjectionChance.Exact }
                    )
                )
                .Message;
        Assert.Contains("no future", Refusal(document));
        var longer = document with { End = 140 };
        Assert.Contains("replicates", Refusal(longer, 0));
        // A million million people: told from the mean of the run, before a single one of them moves.
        var crowd = longer with
        {
            Compartments =
            [
                .. longer.Compartments.Select(part =>
                    part with
                    {
                        Start = part.Symbol == "I" ? "10000000000" : part.Start.Replace("18400", "1000000000000"),
                    }
                ),
            ],
        };
        Assert.Contains("transitions; 500,000,000 is the limit", Refusal(crowd));
        Assert.Contains(
            "no longer a value",
            Refusal(
                new RemoveParts(document.DefinitionBySymbol("beta")!.Id).Apply(longer).Document! is var cut
                    ? cut with
                    {
                        Flows = [.. cut.Flows.Select(flow => flow with { Rate = flow.Rate.Replace("beta", "0.3") })],
                    }
                    : longer
            )
        );
    }

    [Theory]
    [InlineData(0, 1)]
    [InlineData(0.5, 3)]
    [InlineData(1, 5)]
    [InlineData(0.1, 1.4)]
    public void Quantiles_interpolate(double probability, double value) =>
        Assert.Equal(value, Quantiles.Of(new[] { 5.0, 1, 4, 2, 3 }.AsEnumerable(), [probability])[0], 1e-12);

    [Fact]
    public void The_error_of_observation_widens_bands_by_the_variance_of_its_law_and_is_shared_by_scenarios()
    {
        // Few people: the laws are held against what each run observes, however large it is. Of units that chance has moved 0.4 are seen.
        var (document, observation) = Study(1, people: "1840", ill: "20");
        Series series = new(observation, Data);
        ProjectionRequest request = new(400, 3, new Dictionary<ValueAddress, double>());
        var plain = Run(new(document, series, request), 400);
        var negative = new ObservationError(ErrorLaw.NegativeBinomial, 5);
        foreach (
            var (error, variance) in new (ObservationError, Func<double, double>)[]
            {
                (ObservationError.Of(document, series, null, 0)!, mean => 0.6 * mean),
                (negative, mean => 0.6 * mean + mean * mean / 5),
            }
        )
        {
            var seen = Run(new(document, series, request with { Error = error }), 400);
            double[] apart =
            [
                .. seen[0]
                    .Zip(plain[0])
                    .SelectMany(pair => pair.First.Observed.Zip(pair.Second.Observed, (one, other) => one - other).Take(5)),
            ];
            var expected = plain[0].Average(run => run.Observed.Take(5).Average(variance));
            // Five standard errors of a mean and of a variance of 2,000, the law's kurtosis below six.
            Assert.Equal(0, apart.Average(), 5 * Math.Sqrt(expected / apart.Length));
            Assert.Equal(1, apart.Average(value => value * value) / expected, 5 * Math.Sqrt(6.0 / apart.Length));
            // A measure that changes nothing sees the same counts.
            Assert.Equal(seen[0][7].Observed, seen[1][7].Observed);
            Assert.All(seen[0][7].Observed, count => Assert.Equal(Math.Floor(count), count));
        }
        // A law whose spread nobody has estimated has no draws; of a curve of the model nothing is observed.
        var under = document with { Fit = document.Fit with { Law = ErrorLaw.NegativeBinomial } };
        Assert.Null(ObservationError.Of(under, series, null, 0));
        var amount = new Projection(document, series, request with { Error = negative, Of = document.Compartments[0].Id });
        Assert.False(amount.HasError);
    }
}
