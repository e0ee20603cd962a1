using ClearTide.Core.Compilation;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>A fit that makes sense as asked, before anything is searched.</summary>
/// <param name="Document">With what it ties and frees.</param>
/// <param name="Setup">With a value for each subject in the place of those that subjects have of their own.</param>
/// <param name="Lowered">Its model.</param>
/// <param name="Model">What is expected of the rows.</param>
internal sealed record PreparedFit(StudyDocument Document, FitSetup Setup, LoweredModel Lowered, ObservedModel Model)
{
    /// <exception cref="FitRefusedException">The fit makes no sense as asked.</exception>
    public static PreparedFit Of(StudyDocument asked, IReadOnlyList<Series> series, CancellationToken cancel)
    {
        var document = TiedModel.Of(asked);
        var names = SubjectEstimates.Names(series);
        var setup = names.Count > 0 ? document.Fit.For(names) : document.Fit;
        FitChecks.Require(document, setup, series);
        var lowered = Lowering.Lower(document);
        if (lowered.IsProvisional)
            throw new FitRefusedException(
                document != asked && !Lowering.Lower(asked).IsProvisional
                    ? "The values that follow from others do not fit together: one follows from itself, or from what is not in the model. "
                        + "Change them or empty them."
                    : "The model has unfinished parts. Finish what Build lists before fitting."
            );
        ObservedModel model;
        try
        {
            model = new ObservedModel(
                lowered,
                series,
                [.. setup.Parameters.Select(parameter => parameter.Address)],
                owners: [.. setup.Parameters.Select(parameter => parameter.Subject)]
            );
        }
        catch (ArgumentException refusal)
        {
            throw new FitRefusedException(refusal.Message);
        }
        FitChecks.RequireShares(model, setup, cancel);
        return new(document, setup, lowered, model);
    }
}
