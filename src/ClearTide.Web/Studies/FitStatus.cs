using ClearTide.Core.Inference;
using ClearTide.Storage;
using ClearTide.Web.Words;

namespace ClearTide.Web.Studies;

/// <summary>A fit among those that are compared.</summary>
/// <param name="StudyId">The study that it is of, where that is a relative of the one that is shown; null for this one's own.</param>
/// <param name="StudyTitle">That study's title.</param>
public sealed record ComparedFit(FitResult Fit, string? StudyId = null, string StudyTitle = "")
{
    public double Corrected => FitCriteria.Corrected(Fit.Aic, Fit.Detail!.Free, Fit.Detail.Rows);

    public double Bayesian => FitCriteria.Bayesian(Fit.LogLikelihood, Fit.Detail!.Free, Fit.Detail.Rows);

    public string Name => StudyId is null ? FitWords.Name(Fit) : $"{FitWords.Name(Fit)} · {StudyTitle}";
}

/// <summary>Where the fit of a study stands: the job under way or failed, the result of this content or else the newest, and whether it
/// still belongs to the content.</summary>
/// <param name="Comparable">All fits that are kept of the same data as the result's, the result among them, and those of copies of the
/// study, by their corrected criterion.</param>
public sealed record FitStatus(string StudyId, Job? Job, FitResult? Result, bool IsCurrent, IReadOnlyList<ComparedFit> Comparable)
{
    public bool IsRunning => Job is { IsOver: false };
}
