namespace ClearTide.Core.Ensembles;

/// <summary>
/// What the replicates of a projection came to, in memory that does not grow with them: for each scenario what is followed in
/// each interval, its outcomes and their paired differences from the baseline, how often rules acted and a level was exceeded, and the
/// first few runs themselves. Two tallies add up; added in the order of their replicates they are the same to the bit however work was cut.
/// </summary>
public sealed class ProjectionTally
{
    /// <summary>Runs that are kept themselves.</summary>
    public const int Shown = 5;

    /// <summary>Of more bins than this nothing is kept to go on from: writing them would take longer than the work.</summary>
    private const int MostBins = 100_000;

    private readonly Projection _projection;

    internal ProjectionTally(Projection projection)
    {
        _projection = projection;
        Scenarios = [.. projection.Names.Select((_, k) => new ScenarioTally(projection, k))];
    }

    /// <summary>How many replicates were counted.</summary>
    public int Replicates { get; private set; }

    internal IReadOnlyList<ScenarioTally> Scenarios { get; }

    /// <summary>Counts one replicate.</summary>
    /// <param name="runs">Scenario by scenario, the baseline first.</param>
    internal void Add(IReadOnlyList<ReplicateCounts> runs)
    {
        Replicates++;
        var baseline = Scenarios[0].OutcomesOf(runs[0]);
        for (var k = 0; k < runs.Count; k++)
            Scenarios[k].Add(runs[k], baseline);
    }

    /// <summary>Counts all that another one has counted, whose replicates come behind.</summary>
    internal void Add(ProjectionTally other)
    {
        Replicates += other.Replicates;
        for (var k = 0; k < Scenarios.Count; k++)
            Scenarios[k].Add(other.Scenarios[k]);
    }

    /// <summary>All that was counted, to go on from after an interruption; null where it would be too long.</summary>
    public byte[]? Pack()
    {
        if (Scenarios.Sum(one => one.Bins) > MostBins)
            return null;
        using var memory = new MemoryStream();
        using (var writer = new BinaryWriter(memory))
        {
            writer.Write(Replicates);
            foreach (var one in Scenarios)
                one.Write(writer);
        }
        return memory.ToArray();
    }

    /// <summary>Takes up what <see cref="Pack"/> has made of a tally of the same projection; false where it is of another one.</summary>
    internal bool Unpack(byte[] packed)
    {
        try
        {
            using var reader = new BinaryReader(new MemoryStream(packed));
            var replicates = reader.ReadInt32();
            var whole = new ProjectionTally(_projection);
            foreach (var one in whole.Scenarios)
                one.Read(reader);
            if (replicates < 0 || replicates > _projection.Replicates || whole.Scenarios.Any(one => one.Intervals[0].Count != replicates))
                return false;
            whole.Replicates = replicates;
            Add(whole);
            return true;
        }
        catch (Exception wrong) when (wrong is EndOfStreamException or IOException or ArgumentException)
        {
            return false;
        }
    }
}
