using ClearTide.Core.Expressions;

namespace ClearTide.Core.Model;

/// <summary>What an input or a response curve is in place of its own table, from a time on: what a scenario makes of it. Never
/// stored.</summary>
/// <param name="From">In the study's unit of time.</param>
/// <param name="How">For an input: it holds its value of that time, follows the line through its last two points until then, repeats its
/// last stretch, or is nothing. Null for a table.</param>
/// <param name="Period">Length of the stretch that repeats, in the study's unit of time; else 0.</param>
/// <param name="Table">What takes its place; null where <paramref name="How"/> says so.</param>
public sealed record Instead(double From, Beyond? How, double Period, TableFunction? Table);
