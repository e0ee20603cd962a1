using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;

namespace ClearTide.Core.Ensembles;

/// <summary>A median with its 50% and 90% bands.</summary>
public sealed record Band(double P5, double P25, double Median, double P75, double P95)
{
    /// <summary>The quantiles of a sample.</summary>
    public static Band Of(IEnumerable<double> sample)
    {
        var q = Quantiles.Of(sample, 0.05, 0.25, 0.5, 0.75, 0.95);
        return new(q[0], q[1], q[2], q[3], q[4]);
    }
}

/// <summary>One number from each run, over replicates, and its paired difference from the baseline (null for the baseline
/// itself).</summary>
public sealed record OutcomeSummary(Band Value, Band? Difference);

/// <summary>One scenario over its replicates: bands for each interval, and outcomes computed from replicates, never from bands.</summary>
/// <param name="PeakInterval">Number of the interval of the peak, counted from the first of the data or of the future as the screen says;
/// here from 1 at the first of the future.</param>
public sealed record ScenarioSummary(
    string Name,
    IReadOnlyList<Band> Intervals,
    OutcomeSummary Peak,
    OutcomeSummary PeakInterval,
    OutcomeSummary Total
)
{
    /// <summary>How often each of its rules acts.</summary>
    public IReadOnlyList<RuleShares> Rules { get; init; } = [];
}

/// <summary>How often a rule of a scenario acts.</summary>
/// <param name="Acting">For each interval the share of replicates in which it acts there, from 0 to 1.</param>
/// <param name="Ever">The share of replicates in which it acts at all.</param>
public sealed record RuleShares(string RuleId, string Words, IReadOnlyList<double> Acting, double Ever)
{
    /// <param name="times">Where the future begins, then the end of each interval.</param>
    /// <param name="runs">The replicates of the scenario.</param>
    internal static RuleShares Of(EventRule rule, double[] times, ReplicateCounts[] runs)
    {
        var (acting, ever) = (new int[times.Length - 1], 0);
        foreach (var run in runs)
        {
            var stretches = ScenarioModel.Activity(rule, run.Acts, times[^1], (times[1] - times[0]) / 100);
            ever += stretches.Count > 0 ? 1 : 0;
            for (var k = 0; k + 1 < times.Length; k++)
            {
                // A moment at the border of two intervals belongs to the one that it begins.
                if (stretches.Any(one => one.From < times[k + 1] && (one.Until > times[k] || one.From >= times[k])))
                    acting[k]++;
            }
        }
        return new(rule.Id, rule.Name, [.. acting.Select(count => (double)count / runs.Length)], (double)ever / runs.Length);
    }
}

/// <summary>A finished projection.</summary>
/// <param name="Times">Now, then the end of each interval.</param>
/// <param name="Narrowing">For each scenario how much narrower pairing made the difference in totals: spread of the paired difference
/// over that of unpaired runs.</param>
public sealed record ProjectionSummary(
    string Fingerprint,
    string Label,
    double Now,
    double Interval,
    IReadOnlyList<double> Times,
    int Replicates,
    long Seed,
    IReadOnlyList<ScenarioSummary> Scenarios,
    IReadOnlyList<double?> Narrowing
)
{
    /// <summary>Whether it follows how much there is at the end of each interval: then the peak's interval is its time, and the total what
    /// there is at the end.</summary>
    public bool IsAmount { get; init; }

    /// <summary>Id of what is followed; empty for what the data count.</summary>
    public string Of { get; init; } = "";

    /// <summary>Whether replicates differ by what the fit left uncertain, besides by chance.</summary>
    public bool HasSpread { get; init; }

    /// <summary>Whether the error of observation is in the bands.</summary>
    public bool HasError { get; init; }

    /// <summary>Whether each replicate is another subject.</summary>
    public bool HasSubjects { get; init; }

    /// <summary>Whether it starts with the span and not where the data end.</summary>
    public bool FromStart { get; init; }

    /// <param name="counts">Scenario by scenario, replicate by replicate.</param>
    public static ProjectionSummary Made(Projection projection, string fingerprint, long seed, ReplicateCounts[][] counts)
    {
        var (times, amount) = (projection.Times, projection.IsAmount);
        double PeakInterval(ReplicateCounts run) =>
            Array.IndexOf(run.Observed, run.Observed.Max()) + 1 is var interval && amount ? times[interval] : interval;
        double Total(ReplicateCounts run) => amount ? run.Observed[^1] : run.Observed.Sum();
        var scenarios = new List<ScenarioSummary>();
        var narrowing = new List<double?>();
        var baseline = counts[0];
        for (var s = 0; s < counts.Length; s++)
        {
            var runs = counts[s];
            var bands = Enumerable.Range(0, projection.Times.Length - 1).Select(k => Band.Of(runs.Select(run => run.Observed[k]))).ToList();
            OutcomeSummary Outcome(Func<ReplicateCounts, double> outcome) =>
                new(Band.Of(runs.Select(outcome)), s == 0 ? null : Band.Of(runs.Select((run, r) => outcome(run) - outcome(baseline[r]))));
            scenarios.Add(
                new(projection.Names[s], bands, Outcome(Peak), Outcome(PeakInterval), Outcome(Total))
                {
                    Rules = [.. projection.Rules(s).Select(rule => RuleShares.Of(rule, times, runs))],
                }
            );
            narrowing.Add(s == 0 ? null : NarrowingOf(baseline, runs));
        }
        return new(
            fingerprint,
            projection.Label,
            projection.Now,
            projection.Interval,
            projection.Times,
            projection.Replicates,
            seed,
            scenarios,
            narrowing
        )
        {
            IsAmount = amount,
            Of = projection.Follows,
            HasSpread = projection.HasSpread,
            HasError = projection.HasError,
            HasSubjects = projection.HasSubjects,
            FromStart = projection.StartsWithSpan,
        };

        // Standard deviation of paired differences over the one that independent runs of the same spreads would have.
        double? NarrowingOf(ReplicateCounts[] baseline, ReplicateCounts[] runs)
        {
            var a = baseline.Select(Total).ToArray();
            var b = runs.Select(Total).ToArray();
            var independent = Math.Sqrt(Variance(a) + Variance(b));
            return independent > 0 ? Math.Sqrt(Variance([.. a.Zip(b, (x, y) => y - x)])) / independent : null;
        }
    }

    private static double Peak(ReplicateCounts run) => run.Observed.Max();

    private static double Variance(double[] sample)
    {
        if (sample.Length < 2)
            return 0;
        var mean = sample.Average();
        return sample.Sum(x => (x - mean) * (x - mean)) / (sample.Length - 1);
    }
}
