using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>The bounds that somebody typed for a parameter, in the units of the model.</summary>
/// <param name="Lower">Null for no bound, or for one that cannot be read.</param>
/// <param name="Upper">Null for no bound, or for one that cannot be read.</param>
public readonly record struct ValueBounds(double? Lower, double? Upper)
{
    /// <summary>The bounds of a part; none for all but parameters.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="part">The part, or null for none.</param>
    public static ValueBounds Of(StudyDocument document, IPart? part) =>
        part is Definition definition && (definition.Lower.Length > 0 || definition.Upper.Length > 0)
            ? new(Read(definition.Lower, definition, document.UnitTable()), Read(definition.Upper, definition, document.UnitTable()))
            : default;

    /// <summary>A bound as a number; one typed without a unit is in the unit of its part, as the value is.</summary>
    internal static double? Read(string typed, Definition part, UnitTable units) =>
        typed.Length > 0 && Formula.Read(typed) is { Tree: { } tree, HasNames: false }
            ? ValueReader.NumberOf(tree, part.Unit, units)
            : null;
}
