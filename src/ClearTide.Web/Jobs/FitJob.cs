using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;
using ClearTide.Storage;
using ClearTide.Web.Studies;
using ClearTide.Web.Words;

namespace ClearTide.Web.Jobs;

/// <summary>Fits a study as it stands when the job begins. One that was interrupted goes on from the best it had found.</summary>
public sealed class FitJob(StudyLibrary library, ResultStore results) : IJobWork
{
    public const string Kind = "fit";

    /// <summary>A number may have no end where a model runs away.</summary>
    private static readonly JsonSerializerOptions Any = new() { NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals };

    /// <summary>Rows whose expectations are shown while a search goes on at most.</summary>
    private const int MostRows = 5000;

    public void Run(Job job, StudyState study, JobReport report, CancellationToken cancel)
    {
        var watch = new FitWatch
        {
            Progress = share => report.Progress = share,
            Better = best =>
                report.State = () =>
                    (FitWords.SoFar(best), JsonSerializer.Serialize(best.Means.Length <= MostRows ? best : best with { Means = [] }, Any)),
            From = SoFar(job)?.Values ?? [],
        };
        var result = Fitter.Run(study.Document, library.SeriesOf(study.Id, study.Document), watch, cancel);
        results.Put(study.Id, Kind, result.Fingerprint, result);
    }

    /// <summary>The best that a job has found until now; null where it has found nothing.</summary>
    public static FitSoFar? SoFar(Job job)
    {
        try
        {
            return job.SoFar.Length > 0 ? JsonSerializer.Deserialize<FitSoFar>(job.SoFar, Any) : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
