using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Editing;

/// <summary>Ties data to the model, in place of the observation that was there.</summary>
/// <param name="Origin">The date of time zero that the data were read against; a study that has none takes it.</param>
public sealed record SetObservation(string DataSet, string Label, string FlowId, string Reporting, DateOnly? Origin = null) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Moving.All(part => part.Id != FlowId))
            return EditResult.Refused("Choose the flow that was counted.");
        if (Label.Trim().Length is 0 or > 80)
            return EditResult.Refused("Say in up to 80 characters what was counted, as in “Reported cases”.");
        if (Formula.Read(Reporting).Problem is { } problem)
            return EditResult.Refused($"The reporting fraction cannot be read. {problem.Message}");
        foreach (var name in Formula.Read(Reporting).Tree!.Names())
        {
            if (document.DefinitionBySymbol(name.Name) is null)
                return EditResult.Refused(
                    $"The reporting fraction uses {name.Name}, which the model does not have. Type a number, or the symbol of a value."
                );
        }
        var made = new Observation("o" + document.NextId, DataSet, Label.Trim(), FlowId, Reporting.Trim());
        return document with { Observations = [made], NextId = document.NextId + 1, Origin = document.Origin ?? Origin };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"data: {Label.Trim()}";
}

/// <summary>Takes the data off the model; the data themselves are kept.</summary>
public sealed record RemoveObservation : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document) => document with { Observations = [] };

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => "data taken off the model";
}
