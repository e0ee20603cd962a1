using System.Collections.Immutable;
using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>A change laid over the baseline: a value is multiplied by <paramref name="Factor"/> from <paramref name="From"/> until
/// <paramref name="Until"/>.</summary>
public sealed record Measure(string Id, string Label, ValueAddress Address, double Factor, double From, double Until) : Stored;

/// <summary>A named set of measures.</summary>
public sealed record Scenario(string Id, string Name, ImmutableArray<Measure> Measures) : Stored;
