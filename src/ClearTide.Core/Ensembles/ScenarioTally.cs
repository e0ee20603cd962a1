using ClearTide.Core.Interventions;

namespace ClearTide.Core.Ensembles;

/// <summary>What the replicates of one scenario came to.</summary>
internal sealed class ScenarioTally
{
    private readonly Projection _projection;
    private readonly int _scenario;
    private readonly long[][] _acting;
    private readonly long[] _acted;

    public ScenarioTally(Projection projection, int scenario)
    {
        (_projection, _scenario) = (projection, scenario);
        var intervals = projection.Times.Length - 1;
        Intervals = Tallies(intervals);
        Above = new long[intervals];
        var outcomes = projection.Outcomes.Count + projection.Formulas.Count;
        Outcomes = Tallies(outcomes);
        Differences = Tallies(outcomes);
        Lower = new long[outcomes];
        (PeakOfGone, PeakOfOthers) = (new(), new());
        _acting = [.. projection.Rules(scenario).Select(_ => new long[intervals])];
        _acted = new long[_acting.Length];
    }

    private static Tally[] Tallies(int count) => [.. Enumerable.Range(0, count).Select(_ => new Tally())];

    /// <summary>What is followed, interval by interval.</summary>
    public Tally[] Intervals { get; }

    /// <summary>In how many replicates it is above the level, interval by interval.</summary>
    public long[] Above { get; }

    /// <summary>In how many it ever is.</summary>
    public long EverAbove { get; private set; }

    /// <summary>Outcome by outcome, then formula by formula; a replicate that has none is not counted.</summary>
    public Tally[] Outcomes { get; }

    /// <summary>Outcome by outcome, less that of the same replicate of the baseline.</summary>
    public Tally[] Differences { get; }

    /// <summary>In how many replicates an outcome is below that of the baseline.</summary>
    public long[] Lower { get; }

    /// <summary>Peaks of replicates that nothing is left of at the end, and of the others.</summary>
    public Tally PeakOfGone { get; }

    public Tally PeakOfOthers { get; }

    /// <summary>The first runs themselves.</summary>
    public List<double[]> Runs { get; } = [];

    /// <summary>Bins of all tallies.</summary>
    public int Bins => All.Sum(tally => tally.Bins);

    private IEnumerable<Tally> All => [.. Intervals, .. Outcomes, .. Differences, PeakOfGone, PeakOfOthers];

    private IEnumerable<long[]> Counts => [Above, Lower, _acted, .. _acting];

    /// <summary>For each rule in how many replicates it acts, interval by interval, and ever.</summary>
    public IEnumerable<(long[] Acting, long Ever)> Rules => _acting.Zip(_acted);

    /// <summary>The outcomes of a run; not a number for one that it has not.</summary>
    public double[] OutcomesOf(ReplicateCounts run) => [.. _projection.Outcomes.Select(kind => Outcome(kind, run)), .. run.Formulas];

    private double Outcome(ProjectedOutcome kind, ReplicateCounts run)
    {
        var observed = run.Observed;
        var (times, amount) = (_projection.Times, _projection.IsAmount);
        double When(int place) => amount ? times[place + 1] : place + 1;
        return kind switch
        {
            ProjectedOutcome.Cost => _projection.Cost(_scenario, run.Acts),
            ProjectedOutcome.Peak => observed.Max(),
            ProjectedOutcome.PeakInterval => When(Array.IndexOf(observed, observed.Max())),
            ProjectedOutcome.Total => amount ? observed[^1] : observed.Sum(),
            ProjectedOutcome.TimeAbove => observed.Count(value => value > _projection.Level) * (amount ? _projection.Interval : 1),
            _ => Array.FindIndex(observed, value => value > _projection.Level) is >= 0 and var place ? When(place) : double.NaN,
        };
    }

    /// <param name="run">The counts and outcomes of one replicate.</param>
    /// <param name="baseline">Outcomes of the same replicate of the baseline.</param>
    public void Add(ReplicateCounts run, double[] baseline)
    {
        for (var k = 0; k < Intervals.Length; k++)
        {
            Intervals[k].Add(run.Observed[k]);
            Above[k] += run.Observed[k] > _projection.Level ? 1 : 0;
        }
        EverAbove += run.Observed.Any(value => value > _projection.Level) ? 1 : 0;
        var outcomes = OutcomesOf(run);
        for (var k = 0; k < outcomes.Length; k++)
        {
            if (double.IsNaN(outcomes[k]))
                continue;
            Outcomes[k].Add(outcomes[k]);
            if (double.IsNaN(baseline[k]))
                continue;
            Differences[k].Add(outcomes[k] - baseline[k]);
            Lower[k] += outcomes[k] < baseline[k] ? 1 : 0;
        }
        (run.Observed[^1] == 0 ? PeakOfGone : PeakOfOthers).Add(run.Observed.Max());
        if (Runs.Count < ProjectionTally.Shown)
            Runs.Add(run.Observed);
        var rules = _projection.Rules(_scenario);
        for (var k = 0; k < _acting.Length; k++)
        {
            var times = _projection.Times;
            var stretches = ScenarioModel.Activity(rules[k], run.Acts, times[^1], (times[1] - times[0]) / 100);
            _acted[k] += stretches.Count > 0 ? 1 : 0;
            for (var at = 0; at + 1 < times.Length; at++)
            {
                // A moment at the border of two intervals belongs to the one that it begins.
                if (stretches.Any(one => one.From < times[at + 1] && (one.Until > times[at] || one.From >= times[at])))
                    _acting[k][at]++;
            }
        }
    }

    public void Add(ScenarioTally other)
    {
        foreach (var (mine, its) in All.Zip(other.All))
            mine.Add(its);
        foreach (var (mine, its) in Counts.Zip(other.Counts))
        {
            for (var k = 0; k < mine.Length; k++)
                mine[k] += its[k];
        }
        EverAbove += other.EverAbove;
        Runs.AddRange(other.Runs.Take(ProjectionTally.Shown - Runs.Count));
    }

    public void Write(BinaryWriter writer)
    {
        foreach (var tally in All)
            tally.Write(writer);
        foreach (var counts in Counts)
        {
            foreach (var count in counts)
                writer.Write(count);
        }
        writer.Write(EverAbove);
        writer.Write(Runs.Count);
        foreach (var value in Runs.SelectMany(run => run))
            writer.Write(value);
    }

    /// <summary>Reads what <see cref="Write"/> has written, into one that has counted nothing.</summary>
    public void Read(BinaryReader reader)
    {
        foreach (var tally in All)
            tally.Add(Tally.Read(reader));
        foreach (var counts in Counts)
        {
            for (var k = 0; k < counts.Length; k++)
                counts[k] = reader.ReadInt64();
        }
        EverAbove = reader.ReadInt64();
        for (var left = reader.ReadInt32(); left > 0; left--)
            Runs.Add([.. Enumerable.Range(0, Intervals.Length).Select(_ => reader.ReadDouble())]);
    }
}
