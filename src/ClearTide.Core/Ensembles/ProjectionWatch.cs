using System.Diagnostics;

namespace ClearTide.Core.Ensembles;

/// <summary>Who looks on while a projection is made. Called from any thread, one at a time.</summary>
public sealed class ProjectionWatch
{
    /// <summary>Telling takes this share of the time at most.</summary>
    private const double Share = 0.1;

    private long _next;

    /// <summary>Told what share is done.</summary>
    public Action<double>? Progress { get; init; }

    /// <summary>Told what the first replicates come to, at once and then more and more rarely: how many there are in all stands in the
    /// summary. With it comes what an interrupted projection can go on from; null where that would be too long.</summary>
    public Action<ProjectionSummary, byte[]?>? SoFar { get; init; }

    /// <summary>What an interrupted projection had come to; empty for one that begins.</summary>
    public byte[] From { get; init; } = [];

    internal void Told(Projection projection, ProjectionTally tally)
    {
        Progress?.Invoke((double)tally.Replicates / projection.Replicates);
        var begun = Stopwatch.GetTimestamp();
        if (SoFar is null || begun < _next || tally.Replicates == 0 || tally.Replicates == projection.Replicates)
            return;
        SoFar(ProjectionSummary.Made(projection, "", 0, tally), tally.Pack());
        _next = Stopwatch.GetTimestamp() + (long)((Stopwatch.GetTimestamp() - begun) / Share);
    }
}
