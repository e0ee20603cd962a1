using ClearTide.Core.Units;

namespace ClearTide.Core.Diagnostics;

/// <summary>What is known of the unit of one part.</summary>
/// <param name="Unit">Null where nothing says.</param>
/// <param name="Given">Whether somebody has said it, in its unit field or behind its number; else it is inferred.</param>
/// <param name="Agrees">Whether its line agrees with it; null where that was not checked, since something about it is not known.</param>
public sealed record PartUnit(Unit? Unit, bool Given, bool? Agrees);

/// <summary>The units of all parts of a study.</summary>
/// <param name="Parts">What is known of each part, by its id.</param>
public sealed record UnitReport(IReadOnlyDictionary<string, PartUnit> Parts)
{
    private static readonly PartUnit Nothing = new(null, false, null);

    /// <summary>What is known of the unit of a part; nothing for one of another study.</summary>
    /// <param name="partId">Id of the part.</param>
    public PartUnit Of(string partId) => Parts.GetValueOrDefault(partId, Nothing);
}
