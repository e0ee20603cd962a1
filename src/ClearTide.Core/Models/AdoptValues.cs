using System.Globalization;
using ClearTide.Core.Formulas;

namespace ClearTide.Core.Models;

/// <summary>Writes estimated values into the model, each marked as fitted.</summary>
/// <param name="Values">Addresses with values in the study's units.</param>
public sealed record AdoptValues(IReadOnlyDictionary<string, double> Values) : Edit
{
    public override EditResult Apply(StudyDocument document)
    {
        var form = Lowering.Lower(document).Form;
        foreach (var (address, value) in Values)
        {
            var index = form.IndexOf(address);
            if (index < 0) return EditResult.Refused($"There is no value “{address}” in the model any more.");
            document = Write(document, address, form.Values[index].PartId, value.ToString("R", CultureInfo.InvariantCulture));
        }
        return document;
    }

    private static StudyDocument Write(StudyDocument document, string address, string partId, string number)
    {
        var unit = document.TimeUnit.Singular;
        return document with
        {
            Compartments = document.Compartments.Change(partId, part => part with { Start = address.EndsWith(".total", StringComparison.Ordinal) ? $"the rest of {number}" : number }),
            Flows = document.Flows.Change(partId, part => part with { Rate = part.Kind switch { RateKind.MeanStay => $"{number} {unit}", RateKind.PerHead => $"{number} per {unit}", _ => number } }),
            Definitions = document.Definitions.Change(partId, part => part with { Text = KeepUnit(part.Text, number, unit), Origin = Origin.Fitted }),
        };
    }

    /// <summary>A value typed as a rate or a duration stays one.</summary>
    private static string KeepUnit(string text, string number, string unit) =>
        Formula.Read(text).Tree is not { } tree ? number : Units.TimeDimension.Of(tree, _ => null) switch { -1 => $"{number} per {unit}", 1 => $"{number} {unit}", _ => number };

    public override string Describe(StudyDocument before) => "estimates into the model: " + string.Join(", ", Values.Select(pair => string.Create(CultureInfo.InvariantCulture, $"{pair.Key} = {pair.Value:G4}")));
}
