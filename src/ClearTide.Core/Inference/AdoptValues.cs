using System.Globalization;
using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Inference;

/// <summary>Writes values into the model, each marked with where it comes from.</summary>
/// <param name="Values">Addresses with values in the study's units.</param>
public sealed record AdoptValues(IReadOnlyDictionary<ValueAddress, double> Values, Origin Origin = Origin.Fitted) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var network = Lowering.Lower(document).Network;
        foreach (var (address, value) in Values)
        {
            var index = network.IndexOf(address);
            if (index < 0)
                return EditResult.Refused($"There is no value “{address}” in the model any more.");
            if (!double.IsFinite(value))
                return EditResult.Refused($"{address} is to be a finite number.");
            document = Write(document, address, network.Values[index].PartId, TypedNumber.Exact(value));
        }
        return document;
    }

    private StudyDocument Write(StudyDocument document, ValueAddress address, string partId, string number)
    {
        var unit = document.TimeUnit.Singular;
        var units = document.UnitTable();
        switch (document.Part(partId))
        {
            case Compartment part when address.Field == ValueField.Next:
                return document.With(part with { Next = KeepUnit(part.Next, number, units) });
            case Compartment part:
                var start = KeepUnit(StartLine.Read(part.Start).Formula.Text, number, units, part.Unit);
                return document.With(
                    part with
                    {
                        Start = address.Field == ValueField.Total ? $"the rest of {start}" : start,
                        Origin = Origin,
                    }
                );
            case Flow part when address.Field == ValueField.Share:
                var at = part
                    .To.Select(target => document.Compartment(target.Id)?.Symbol ?? ValueAddress.Outside)
                    .ToList()
                    .IndexOf(address.End);
                return at < 0 ? document : document.With(part with { To = part.To.SetItem(at, part.To[at] with { Share = number }) });
            case Flow part:
                return document.With(
                    part with
                    {
                        Rate = part.Kind switch
                        {
                            RateKind.MeanStay => $"{number} {unit}",
                            RateKind.PerHead => $"{number} per {unit}",
                            _ => number,
                        },
                        Origin = Origin,
                    }
                );
            case Definition part:
                return document.With(part with { Text = KeepUnit(part.Text, number, units, part.Unit), Origin = Origin });
            case ResponseCurve part when ResponseCurves.FieldOf(address.Field) is { } line && part.Fields.Contains(line):
                return document.With(ResponseCurves.WithLine(part, line, KeepUnit(part.Line(line), number, units)));
            default:
                return document;
        }
    }

    /// <summary>A value typed with a unit keeps it, in the study's own sizes.</summary>
    /// <param name="own">The unit of the part, in which a bare number is read.</param>
    private static string KeepUnit(string text, string number, Units.UnitTable units, string own = "")
    {
        if (Formula.Read(text).Tree is not { } tree)
            return number;
        if (!tree.Units().Any())
        {
            var scale = FormulaUnits.IsBare(tree) ? units.ReadAlone(own).Unit?.Scale ?? 1 : 1;
            return scale == 1 ? number : TypedNumber.Exact(double.Parse(number, CultureInfo.InvariantCulture) / scale);
        }
        var unit = new FormulaUnits(new(), units, _ => Units.UnitTerm.Pure, _ => null, text, _ => { }).OfLine(tree).Known;
        if (unit.IsPure)
            return number;
        return unit.Agrees(Units.Unit.Pure.Per(units.TimeMeasure)) ? $"{number} per {units.Time.Singular}"
            : unit.Factors.Any(factor => factor.Power > 0) ? $"{number} {unit.Text()}"
            : $"{number} {unit.Text()}".Replace(" 1/", " per ", StringComparison.Ordinal).Replace("/", " per ", StringComparison.Ordinal);
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        (Origin == Origin.Fitted ? "estimates into the model: " : "values: ")
        + string.Join(", ", Values.Select(pair => string.Create(CultureInfo.InvariantCulture, $"{pair.Key} = {pair.Value:G4}")));
}
