using System.Collections.Immutable;

namespace ClearTide.Core.Model;

/// <summary>Something taken for granted, tied to the parts it concerns.</summary>
/// <param name="Parts">Ids of the parts; none for the whole study.</param>
public sealed record Assumption(string Id, string Text, ImmutableArray<string> Parts, string Note = "") : Stored, IPart
{
    public const int LongestText = 500;

    public string Name => Text;

    public string Label => Text;
}

/// <summary>A plain statement that the model must satisfy, checked at each edit: <c>R + D never falls</c>.</summary>
public sealed record Expectation(string Id, string Text, string Note = "") : Stored, IPart
{
    public string Name => Text;

    public string Label => Text;
}
