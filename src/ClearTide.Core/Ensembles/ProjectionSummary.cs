using ClearTide.Core.Sampling;

namespace ClearTide.Core.Ensembles;

/// <summary>A median with its 50% and 90% bands.</summary>
/// <param name="P5">5% lie below.</param>
/// <param name="P25">A quarter lies below.</param>
/// <param name="Median">Half lie below.</param>
/// <param name="P75">Three quarters lie below.</param>
/// <param name="P95">95% lie below.</param>
public sealed record Band(double P5, double P25, double Median, double P75, double P95)
{
    /// <summary>The quantiles of a sample.</summary>
    /// <param name="sample">At least one number, in any order.</param>
    public static Band Of(IEnumerable<double> sample)
    {
        var q = Quantiles.Of(sample, 0.05, 0.25, 0.5, 0.75, 0.95);
        return new(q[0], q[1], q[2], q[3], q[4]);
    }

    /// <summary>The quantiles of what was counted.</summary>
    /// <param name="tally">What was counted, one replicate at least.</param>
    public static Band Of(Tally tally)
    {
        var q = tally.Quantiles(0.05, 0.25, 0.5, 0.75, 0.95);
        return new(q[0], q[1], q[2], q[3], q[4]);
    }
}

/// <summary>A number that each run of a projection comes to.</summary>
public enum ProjectedOutcome
{
    /// <summary>The most in any interval.</summary>
    Peak,

    /// <summary>In which interval that is, counted from 1; of how much there is, its time.</summary>
    PeakInterval,

    /// <summary>All that is counted; of how much there is, what is left at the end.</summary>
    Total,

    /// <summary>In how many intervals it is above the level; of how much there is, how long.</summary>
    TimeAbove,

    /// <summary>In which interval it is above the level first; of how much there is, when. A run may have none.</summary>
    FirstAbove,

    /// <summary>What the measures of the scenario cost.</summary>
    Cost,

    /// <summary>What a formula over the run comes to. A run may have none.</summary>
    Formula,
}

/// <summary>One number from each run, over replicates, and its paired difference from the baseline (null for the baseline
/// itself).</summary>
/// <param name="Kind">Which number of a run.</param>
/// <param name="Value">Its quantiles over replicates.</param>
/// <param name="Difference">Those of its difference from the baseline with the same chance, or null.</param>
public sealed record OutcomeSummary(ProjectedOutcome Kind, Band Value, Band? Difference)
{
    /// <summary>The formula as typed; empty for other outcomes.</summary>
    public string Formula { get; init; } = "";

    /// <summary>The share of replicates in which a statement is true, with its interval; null for a number.</summary>
    public Proportion? Share { get; init; }

    /// <summary>By how much that share differs from that of the baseline, with the interval of paired replicates at 95%; null for the
    /// baseline and for numbers.</summary>
    public Proportion? ShareDifference { get; init; }

    /// <summary>How it spreads over replicates.</summary>
    public Histogram? Spread { get; init; }

    /// <summary>The share of replicates that have such an outcome.</summary>
    public double Having { get; init; } = 1;

    /// <summary>The share of replicates in which it is below that of the baseline; null for the baseline itself.</summary>
    public double? Lower { get; init; }
}

/// <summary>One scenario over its replicates: bands for each interval, and outcomes computed from replicates, never from bands.</summary>
/// <param name="Name">The name that people read.</param>
/// <param name="Intervals">One for each interval of the future.</param>
/// <param name="Outcomes">One for each outcome.</param>
public sealed record ScenarioSummary(string Name, IReadOnlyList<Band> Intervals, IReadOnlyList<OutcomeSummary> Outcomes)
{
    /// <summary>How often each of its rules acts.</summary>
    public IReadOnlyList<RuleShares> Rules { get; init; } = [];

    /// <summary>For each interval the share of replicates above the level, from 0 to 1; empty where there is no level.</summary>
    public IReadOnlyList<double> Above { get; init; } = [];

    /// <summary>The share of replicates that are ever above it.</summary>
    public double EverAbove { get; init; }

    /// <summary>The share of replicates of which nothing is left in the last interval.</summary>
    public double Gone { get; init; }

    /// <summary>Peaks of these replicates, and of the others; null where there are none.</summary>
    public Band? PeakOfGone { get; init; }

    /// <summary>Peaks of the replicates of which something is left.</summary>
    public Band? PeakOfOthers { get; init; }

    /// <summary>The first few runs themselves.</summary>
    public IReadOnlyList<double[]> Runs { get; init; } = [];

    /// <summary>Quantiles at <see cref="ProjectionSummary.Shares"/> for each interval, from which forecasts are scored.</summary>
    public IReadOnlyList<double[]> Quantiles { get; init; } = [];

    /// <summary>One of its outcomes.</summary>
    /// <param name="kind">Which outcome.</param>
    public OutcomeSummary Outcome(ProjectedOutcome kind) => Outcomes.First(one => one.Kind == kind);
}

/// <summary>How often a rule of a scenario acts.</summary>
/// <param name="RuleId">Id of the rule.</param>
/// <param name="Words">The rule as typed.</param>
/// <param name="Acting">For each interval the share of replicates in which it acts there, from 0 to 1.</param>
/// <param name="Ever">The share of replicates in which it acts at all.</param>
public sealed record RuleShares(string RuleId, string Words, IReadOnlyList<double> Acting, double Ever);

/// <summary>A projection, finished or as far as it is.</summary>
/// <param name="Fingerprint">Hash of all that the numbers depend on.</param>
/// <param name="Label">What is followed, as people call it.</param>
/// <param name="Now">Where the future begins, in the model's unit of time.</param>
/// <param name="Interval">How long each interval is, in that unit.</param>
/// <param name="Times">Now, then the end of each interval.</param>
/// <param name="Replicates">How many there are of each scenario.</param>
/// <param name="Seed">Seed of the random streams; equal seeds give equal numbers.</param>
/// <param name="Scenarios">The baseline first.</param>
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
    /// <summary>Shares at which the quantiles of the baseline are kept.</summary>
    public static readonly IReadOnlyList<double> Shares = [.. Enumerable.Range(0, 20).Select(k => (k + 0.5) / 20)];

    /// <summary>Whether it follows how much there is at the end of each interval: then the peak's interval is its time, and the total what
    /// there is at the end.</summary>
    public bool IsAmount { get; init; }

    /// <summary>The method that was taken.</summary>
    public ProjectionChance Method { get; init; }

    /// <summary>Why that method was taken, in a sentence; empty where it was asked for.</summary>
    public string Why { get; init; } = "";

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

    /// <summary>What was counted, in bands.</summary>
    /// <param name="projection">The projection.</param>
    /// <param name="fingerprint">Of what it depends on.</param>
    /// <param name="seed">The seed of the study.</param>
    /// <param name="tally">What was counted.</param>
    public static ProjectionSummary Made(Projection projection, string fingerprint, long seed, ProjectionTally tally) =>
        new(
            fingerprint,
            projection.Label,
            projection.Now,
            projection.Interval,
            projection.Times,
            tally.Replicates,
            seed,
            [.. tally.Scenarios.Select((one, k) => Made(projection, one, k, tally.Replicates))],
            [.. tally.Scenarios.Select((one, k) => k == 0 ? null : NarrowingOf(projection, tally.Scenarios[0], one))]
        )
        {
            IsAmount = projection.IsAmount,
            Method = projection.Method,
            Why = projection.Why,
            Of = projection.Follows,
            HasSpread = projection.HasSpread,
            HasError = projection.HasError,
            HasSubjects = projection.HasSubjects,
            FromStart = projection.StartsWithSpan,
        };

    private static ScenarioSummary Made(Projection projection, ScenarioTally tally, int scenario, int replicates)
    {
        double Share(long count) => (double)count / Math.Max(1, replicates);
        return new(
            projection.Names[scenario],
            [.. tally.Intervals.Select(Band.Of)],
            [
                .. projection
                    .Outcomes.Select(kind => (Kind: kind, Text: "", IsStatement: false))
                    .Concat(projection.Formulas.Select(one => (Kind: ProjectedOutcome.Formula, one.Text, one.IsStatement)))
                    .Select(
                        (one, k) =>
                            new OutcomeSummary(one.Kind, Band.Of(tally.Outcomes[k]), scenario == 0 ? null : Band.Of(tally.Differences[k]))
                            {
                                Formula = one.Text,
                                Share = one.IsStatement ? ShareOf(tally.Outcomes[k]) : null,
                                ShareDifference = one.IsStatement && scenario > 0 ? DifferenceOf(tally.Differences[k]) : null,
                                Spread = one.IsStatement ? null : tally.Outcomes[k].Histogram(),
                                Having = Share(tally.Outcomes[k].Count),
                                Lower = scenario == 0 ? null : Share(tally.Lower[k]),
                            }
                    ),
            ]
        )
        {
            Rules =
            [
                .. projection
                    .Rules(scenario)
                    .Zip(tally.Rules, (rule, acts) => new RuleShares(rule.Id, rule.Name, [.. acts.Acting.Select(Share)], Share(acts.Ever))),
            ],
            Above = projection.Level is null ? [] : [.. tally.Above.Select(Share)],
            EverAbove = Share(tally.EverAbove),
            Gone = Share(tally.PeakOfGone.Count),
            PeakOfGone = tally.PeakOfGone.Count > 0 ? Band.Of(tally.PeakOfGone) : null,
            PeakOfOthers = tally.PeakOfOthers.Count > 0 ? Band.Of(tally.PeakOfOthers) : null,
            // What is told goes on to be read while more replicates come.
            Runs = [.. tally.Runs],
            Quantiles = scenario == 0 ? [.. tally.Intervals.Select(one => one.Quantiles([.. Shares]))] : [],
        };
    }

    private static Proportion ShareOf(Tally truth) => Proportion.Of((int)Math.Round(truth.Mean * truth.Count), (int)truth.Count);

    /// <summary>The mean of paired differences, by the normal law of means.</summary>
    private static Proportion DifferenceOf(Tally differences)
    {
        var half = differences.Count > 1 ? Proportion.Z * differences.Deviation / Math.Sqrt(differences.Count) : 0;
        return new(differences.Mean, differences.Mean - half, differences.Mean + half);
    }

    /// <summary>Standard deviation of paired differences over the one that independent runs of the same spreads would have.</summary>
    private static double? NarrowingOf(Projection projection, ScenarioTally baseline, ScenarioTally scenario)
    {
        var total = projection.Outcomes.ToList().IndexOf(ProjectedOutcome.Total);
        double Variance(Tally tally) => tally.Count > 1 ? tally.Deviation * tally.Deviation : 0;
        var independent = Math.Sqrt(Variance(baseline.Outcomes[total]) + Variance(scenario.Outcomes[total]));
        return independent > 0 ? Math.Sqrt(Variance(scenario.Differences[total])) / independent : null;
    }
}
