using ClearTide.Core.Inference;
using ClearTide.Storage;

namespace ClearTide.Web.Studies;

/// <summary>Where the fit of a study stands: the job under way or failed, the newest result, and whether it still belongs to the
/// content.</summary>
public sealed record FitStatus(string StudyId, Job? Job, FitResult? Result, bool IsCurrent)
{
    public bool IsRunning => Job is { IsOver: false };
}
