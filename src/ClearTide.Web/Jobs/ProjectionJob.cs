using System.Text.Json;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Storage;
using ClearTide.Web.Studies;

namespace ClearTide.Web.Jobs;

/// <summary>Runs the replicates of a projection on all processors.</summary>
public sealed class ProjectionJob(StudyLibrary library, ResultStore results) : IJobWork
{
    public const string Kind = "projection";

    public void Run(Job job, StudyState study, JobReport report, CancellationToken cancel)
    {
        var request = JsonSerializer.Deserialize<ProjectionRequest>(job.Request)!;
        var series = library.SeriesOf(study.Id, study.Document).FirstOrDefault(one => one.Observation.Seen == ObservedAs.Flowed);
        var projection = new Projection(study.Document, series, request);
        var counts = projection.RunAll(Environment.ProcessorCount, share => report.Progress = share, cancel);
        var fingerprint = Projection.Fingerprint(study.Document, series, request);
        results.Put(study.Id, Kind, fingerprint, ProjectionSummary.Made(projection, fingerprint, request.Seed, counts));
    }
}
