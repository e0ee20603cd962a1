using System.Globalization;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>Writes values into the model, each marked with where it comes from.</summary>
/// <param name="Values">Addresses with values in the study's units.</param>
/// <param name="Origin">Where the values come from.</param>
public sealed record AdoptValues(IReadOnlyDictionary<ValueAddress, double> Values, Origin Origin = Origin.Fitted) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var network = Lowering.Lower(FreedValues.With(document, Values.Keys)).Network;
        foreach (var (address, value) in Values)
        {
            var index = network.IndexOf(address);
            if (index < 0)
                return EditResult.Refused($"There is no value “{address}” in the model any more.");
            if (!double.IsFinite(value))
                return EditResult.Refused($"{address} is to be a finite number.");
            if (address == FreedValues.StartDay)
            {
                var begun = new SetSpan(value, document.End).Apply(document);
                if (begun.Document is not { } whole)
                    return begun;
                document = whole;
                continue;
            }
            document = ValueText.Write(document, address, network.Values[index].PartId, TypedNumber.Exact(value), Origin);
        }
        return document;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        (Origin == Origin.Fitted ? "estimates into the model: " : "values: ")
        + string.Join(", ", Values.Select(pair => string.Create(CultureInfo.InvariantCulture, $"{pair.Key} = {pair.Value:G4}")));
}
