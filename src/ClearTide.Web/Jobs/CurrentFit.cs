using ClearTide.Core.Inference;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Storage;

namespace ClearTide.Web.Jobs;

/// <summary>The fit that still belongs to a study.</summary>
public static class CurrentFit
{
    /// <summary>The newest fit, where it is of this content; null where there is none that counts a flow to go on from.</summary>
    public static FitResult? Of(ResultStore results, string studyId, StudyDocument document, IReadOnlyList<Series> series) =>
        ProjectionOrder.Counted(series) is not null
        && results.Newest<FitResult>(studyId, FitJob.Kind) is { } fit
        && fit.Fingerprint == Fingerprints.Of(document, series)
            ? fit
            : null;
}
