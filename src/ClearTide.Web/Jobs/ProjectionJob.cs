using System.Text.Json;
using System.Text.Json.Serialization;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Storage;
using ClearTide.Web.Studies;

namespace ClearTide.Web.Jobs;

/// <summary>Makes the replicates of a projection on all processors. What they come to is told while they are made; one that was interrupted
/// goes on from what it had.</summary>
public sealed class ProjectionJob(StudyLibrary library, ResultStore results) : IJobWork
{
    public const string Kind = "projection";

    /// <summary>The kind of its results, which hold what was asked for.</summary>
    public const string Result = "kept projection";

    /// <summary>An outcome that no replicate has is not a number.</summary>
    private static readonly JsonSerializerOptions Any = new() { NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals };

    public void Run(Job job, StudyState study, JobReport report, CancellationToken cancel)
    {
        var order = JsonSerializer.Deserialize<ProjectionOrder>(job.Request)!;
        var all = library.SeriesOf(study.Id, study.Document);
        var known = order.Known(all);
        var fit = Fit(order, study, known, cancel);
        var projection = new Projection(study.Document, ProjectionOrder.Counted(known), order.Request(study.Document, known, fit));
        var fingerprint = order.Fingerprint(study.Document, all, fit);
        var before = SoFar(job) is { Packed: { } packed } soFar && soFar.Fingerprint == fingerprint ? packed : [];
        var withShares = order.Shares && SpreadShares.Of(projection).Count > 1;
        // The pairs of each source are runs as those of the replicates are.
        var runs = withShares
            ? (double)order.Replicates
                * projection.Names.Count
                / (order.Replicates * projection.Names.Count + SpreadShares.UsualPairs * (1 + SpreadShares.Of(projection).Count))
            : 1;
        var watch = new ProjectionWatch
        {
            Progress = share => report.Progress = share * runs,
            SoFar = (summary, packed) =>
                report.State = () => ("", JsonSerializer.Serialize(new ProjectionSoFar(fingerprint, summary, packed), Any)),
            From = before,
        };
        var tally = projection.Run(Environment.ProcessorCount, watch, cancel);
        var summary = ProjectionSummary.Made(projection, fingerprint, order.Seed, tally);
        SpreadShares? shares = null;
        if (withShares)
        {
            var whole = JsonSerializer.Serialize(new ProjectionSoFar(fingerprint, summary, tally.Pack()), Any);
            report.State = () => ("", whole);
            shares = SpreadShares.Of(
                projection,
                SpreadShares.UsualPairs,
                Environment.ProcessorCount,
                share => report.Progress = runs + (1 - runs) * share,
                cancel
            );
        }
        results.Put(study.Id, Result, fingerprint, new KeptProjection(order, summary, DateTime.UtcNow, shares));
    }

    /// <summary>The fit that it goes on from: the one that was made of all data, or from an earlier now one of what had come in.</summary>
    private FitResult? Fit(ProjectionOrder order, StudyState study, IReadOnlyList<Core.Model.Series> known, CancellationToken cancel)
    {
        if (order.AsOf is null)
            return CurrentFit.Of(results, study.Id, study.Document, known);
        return study.Document.Fit.Parameters.IsEmpty || known.Count == 0
            ? null
            : Fitter.Run(study.Document, known, cancel: cancel, threads: Environment.ProcessorCount);
    }

    /// <summary>What a job has come to until now; null for nothing.</summary>
    public static ProjectionSoFar? SoFar(Job job)
    {
        try
        {
            return job.SoFar.Length > 0 ? JsonSerializer.Deserialize<ProjectionSoFar>(job.SoFar, Any) : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
