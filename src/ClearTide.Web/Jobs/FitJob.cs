using ClearTide.Core.Inference;
using ClearTide.Core.Model;
using ClearTide.Storage;
using ClearTide.Web.Studies;

namespace ClearTide.Web.Jobs;

/// <summary>Fits a study as it stands when the job begins.</summary>
public sealed class FitJob(StudyLibrary library, ResultStore results) : IJobWork
{
    public const string Kind = "fit";

    public void Run(Job job, StudyState study, Action<double> progress, CancellationToken cancel)
    {
        var result = Fitter.Run(study.Document, library.SeriesOf(study.Id, study.Document), progress, cancel);
        results.Put(study.Id, Kind, result.Fingerprint, result);
    }
}
