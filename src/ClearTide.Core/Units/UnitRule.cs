namespace ClearTide.Core.Units;

/// <summary>
/// A unit that a study adds: a count noun (empty meaning), a factor times another unit (<c>200 mg</c>), or another spelling of one
/// (<c>person</c>).
/// </summary>
public sealed record UnitRule(string Word, string Meaning);
