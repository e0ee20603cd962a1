using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>Chooses what a fit estimates.</summary>
public sealed record SetFit(FitSetup Setup) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document) =>
        Setup.Refusal() is { } refusal ? EditResult.Refused(refusal) : document with { Fit = Setup };

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        Setup.Parameters.IsEmpty
            ? "fit: nothing to estimate"
            : "fit: " + string.Join(", ", Setup.Parameters.Select(parameter => parameter.Address));
}
