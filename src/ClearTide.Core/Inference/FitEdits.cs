using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>Chooses what a fit estimates.</summary>
public sealed record SetFit(FitSetup Setup) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        foreach (var parameter in Setup.Parameters)
        {
            if (!double.IsFinite(parameter.Lower) || !double.IsFinite(parameter.Upper))
                return EditResult.Refused($"Type both bounds of {parameter.Address} as numbers.");
            if (!(parameter.Upper > parameter.Lower))
                return EditResult.Refused($"The bounds of {parameter.Address} cross. Type an upper bound above {parameter.Lower:G6}.");
        }
        return document with { Fit = Setup };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        Setup.Parameters.IsEmpty
            ? "fit: nothing to estimate"
            : "fit: " + string.Join(", ", Setup.Parameters.Select(parameter => parameter.Address));
}
