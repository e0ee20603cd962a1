using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Sbml;

/// <summary>Writes units as SBML's unit definitions (Level 3 Version 2 core, section 4.4), each once.</summary>
internal sealed class SbmlUnits(SbmlIds ids)
{
    private readonly Dictionary<string, SbmlUnitDefinition> _known = [];

    public ImmutableArray<SbmlUnitDefinition> Definitions => [.. _known.Values];

    /// <summary>The id of a unit.</summary>
    public string Of(Unit unit)
    {
        var text = unit.Text(many: false);
        if (text.Length == 0)
            return "dimensionless";
        if (_known.TryGetValue(text, out var known))
            return known.Id;
        var definition = new SbmlUnitDefinition(
            ids.Free($"unit_{text}"),
            [.. unit.Factors.SelectMany(factor => Factors(factor.Atom, factor.Power))],
            text
        );
        _known.Add(text, definition);
        return definition.Id;
    }

    private static IEnumerable<SbmlUnit> Factors(UnitAtom atom, double power)
    {
        for (var k = 0; k < atom.Dimension.Count; k++)
        {
            var (dimension, own) = atom.Dimension[k];
            var kind = dimension switch
            {
                UnitAtom.Time => "second",
                "mass" => "gram",
                "substance" => "mole",
                "length" => "metre",
                _ => "item",
            };
            // The size belongs to the whole atom: its first factor carries it, as a number that the power of that factor makes right.
            yield return new(kind, own * power, 0, k == 0 ? Math.Pow(atom.Size, 1 / own) : 1);
        }
    }
}
