using ClearTide.Core.Language;

namespace ClearTide.Core.Units;

/// <summary>One named unit that is not made of others by name: a gram, a day, a person.</summary>
/// <param name="Singular">Its canonical spelling for one.</param>
/// <param name="Plural">Its canonical spelling for many.</param>
/// <param name="Dimension">Base dimensions with their powers; a count noun is a base dimension of its own.</param>
/// <param name="Size">How many of the dimensions' own measures (second, gram, metre, mole, one of the noun) it is.</param>
public sealed record UnitAtom(string Singular, string Plural, IReadOnlyList<(string Base, double Power)> Dimension, double Size)
{
    /// <summary>The dimension of time.</summary>
    public const string Time = "time";

    /// <summary>Whether it measures time.</summary>
    public bool IsTime => Dimension.Count == 1 && Dimension[0] == (Time, 1);

    /// <summary>Atoms are the same where name, dimension and size are.</summary>
    /// <param name="other">What it is compared with.</param>
    public bool Equals(UnitAtom? other) =>
        ReferenceEquals(this, other)
        || other is not null && Singular == other.Singular && Size == other.Size && Dimension.SequenceEqual(other.Dimension);

    /// <inheritdoc/>
    public override int GetHashCode() => Singular.GetHashCode(StringComparison.Ordinal);

    /// <summary>A noun for what is counted.</summary>
    /// <param name="singular">The word for one.</param>
    /// <param name="plural">The word for several.</param>
    public static UnitAtom Noun(string singular, string plural) => new(singular, plural, [("noun " + singular, 1)], 1);

    /// <summary>A unit of time as an atom.</summary>
    /// <param name="unit">The unit of time.</param>
    public static UnitAtom Of(TimeUnit unit) => new(unit.Singular, unit.Plural, [(Time, 1)], unit.Seconds);
}
