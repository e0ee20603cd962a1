namespace ClearTide.Core.Units;

/// <summary>
/// A unit that a study adds: a count noun (empty meaning), a factor times another unit (<c>200 mg</c>), or another spelling of one
/// (<c>person</c>).
/// </summary>
/// <param name="Word">The new word.</param>
/// <param name="Meaning">A factor with a unit, another word, or nothing.</param>
public sealed record UnitRule(string Word, string Meaning);
