using ClearTide.Core.Data;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Ensembles;

/// <summary>Projections of any curve, with data and without.</summary>
public class FollowedTests
{
    private const int Replicates = 400;

    private static readonly IReadOnlyDictionary<ValueAddress, double> None = new Dictionary<ValueAddress, double>();

    private static double[][] Run(Projection projection, int scenario = 0)
    {
        var worker = projection.CreateWorker();
        return [.. Enumerable.Range(0, projection.Replicates).Select(r => worker.Run(scenario, r, default).Observed)];
    }

    [Fact]
    public void Without_data_it_starts_with_the_span_and_follows_how_much_there_is()
    {
        var document = Studies.Of("A(0) = 100; A -> at 0.1", 20);
        var projection = new Projection(document, null, new(Replicates, 5, None) { Of = document.Compartments[0].Id });
        Assert.True(projection.IsAmount && projection.StartsWithSpan);
        Assert.Equal(0, projection.Now);
        Assert.Equal(20, projection.Times[^1]);
        var runs = Run(projection);
        // Each of a hundred is still there with probability exp(-2): a mean of 13.5 and a variance of 11.7. The mean of 400 lies within
        // four standard errors but once in 16,000 seeds; this one is fixed.
        var (last, share) = (runs.Select(run => run[^1]).ToList(), Math.Exp(-2));
        Assert.Equal(100 * share, last.Average(), 4 * Math.Sqrt(100 * share * (1 - share) / Replicates));
        Assert.All(runs, run => Assert.All(run, amount => Assert.Equal(Math.Floor(amount), amount)));
    }

    [Fact]
    public void A_flow_is_counted_in_each_interval()
    {
        var document = Studies.Of("A(0) = 100; A -> B at 0.1; B(0) = 0", 20);
        var flow = document.Flows[0].Id;
        var counted = Run(new(document, null, new(50, 5, None) { Of = flow }));
        var there = Run(new(document, null, new(50, 5, None) { Of = document.Compartments[1].Id }));
        // The same chance: what has flowed is what is there.
        for (var r = 0; r < counted.Length; r++)
            Assert.Equal(there[r][^1], counted[r].Sum());
    }

    [Fact]
    public void Of_a_study_with_counts_any_curve_is_followed_from_where_they_end_or_from_the_start()
    {
        var document = Studies.Of("A(0) = 100; A -> B at 0.1; B(0) = 0", 20);
        var series = new Series(
            new("o", "data", "Counts", document.Flows[0].Id, "1"),
            new DataSet("data", "Counts", [new(0, 4, 30), new(4, 8, 20)])
        );
        var on = new Projection(document, series, new(1, 1, None) { Of = document.Compartments[0].Id });
        Assert.Equal((8.0, false), (on.Now, on.StartsWithSpan));
        var whole = new Projection(document, series, new(1, 1, None) { Of = document.Compartments[0].Id, FromStart = true });
        Assert.Equal((0.0, true), (whole.Now, whole.StartsWithSpan));
        var counts = new Projection(document, series, new(1, 1, None));
        Assert.Equal((4.0, false, "Counts"), (counts.Interval, counts.IsAmount, counts.Label));
    }

    [Fact]
    public void What_it_follows_is_part_of_its_fingerprint_and_must_be_there()
    {
        var document = Studies.Of("A(0) = 100; A -> B at 0.1; B(0) = 0", 20);
        string Print(string of, bool start) => Projection.Fingerprint(document, null, new(1, 1, None) { Of = of, FromStart = start });
        Assert.Equal(4, new[] { Print("", false), Print("c1", false), Print("c2", false), Print("c1", true) }.Distinct().Count());
        Assert.Contains(
            "no longer",
            Assert.Throws<ProjectionRefusedException>(() => new Projection(document, null, new(1, 1, None) { Of = "gone" })).Message
        );
        Assert.Contains(
            "Choose a curve",
            Assert.Throws<ProjectionRefusedException>(() => new Projection(document, null, new(1, 1, None))).Message
        );
    }

    [Fact]
    public void Outcomes_of_an_amount_are_its_peak_when_that_is_and_what_is_left()
    {
        var document = Studies.Of("A(0) = 50; A -> B at 0.5; B -> at 0.2; B(0) = 0", 30);
        var projection = new Projection(document, null, new(60, 2, None) { Of = document.CompartmentBySymbol("B")!.Id });
        var runs = Run(projection);
        var summary = ProjectionSummary.Made(projection, "f", 2, projection.Run(2));
        Assert.True(summary.IsAmount);
        var peaks = runs.Select(run => run.Max()).Order().ToList();
        Assert.InRange(summary.Scenarios[0].Outcome(ProjectedOutcome.Peak).Value.Median, peaks[28], peaks[31]);
        // It peaks at ln(5/2)/0.3 days without chance: three, give or take the noise of 60 runs of a few units.
        Assert.InRange(summary.Scenarios[0].Outcome(ProjectedOutcome.PeakInterval).Value.Median, 1.5, 5);
        var left = runs.Select(run => run[^1]).Order().ToList();
        Assert.InRange(summary.Scenarios[0].Outcome(ProjectedOutcome.Total).Value.Median, left[28], left[31]);
    }
}
