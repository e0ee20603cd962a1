using ClearTide.Core.Inference;
using ClearTide.Storage;

namespace ClearTide.Web.Studies;

/// <summary>Where the fit of a study stands: the job under way or failed, the result of this content or else the newest, and whether it
/// still belongs to the content.</summary>
/// <param name="Comparable">All fits that are kept of the same data as the result's, the result among them, by their corrected
/// criterion.</param>
public sealed record FitStatus(string StudyId, Job? Job, FitResult? Result, bool IsCurrent, IReadOnlyList<FitResult> Comparable)
{
    public bool IsRunning => Job is { IsOver: false };
}
