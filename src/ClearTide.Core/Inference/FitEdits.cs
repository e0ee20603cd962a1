using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>Chooses what a fit estimates.</summary>
/// <param name="Setup">What the fit shall estimate.</param>
public sealed record SetFit(FitSetup Setup) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document) =>
        Refusal(document with { Fit = Setup }) is { } refusal ? EditResult.Refused(refusal) : document with { Fit = Setup };

    private string? Refusal(StudyDocument document) =>
        Setup.Refusal()
        ?? Setup.Parameters.Select(one => FreedValues.Refusal(document, one.Address)).FirstOrDefault(refusal => refusal is not null)
        ?? Setup.Ties.Select(tie => TiedModel.Refusal(document, tie)).FirstOrDefault(refusal => refusal is not null);

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        Setup.Parameters.IsEmpty
            ? "fit: nothing to estimate"
            : "fit: " + string.Join(", ", Setup.Parameters.Select(parameter => parameter.Address));
}
