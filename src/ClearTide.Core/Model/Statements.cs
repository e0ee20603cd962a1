using System.Collections.Immutable;

namespace ClearTide.Core.Model;

/// <summary>Something taken for granted, tied to the parts it concerns.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Text">The statement.</param>
/// <param name="Parts">Ids of the parts; none for the whole study.</param>
/// <param name="Note">What somebody wrote about it; may be empty.</param>
public sealed record Assumption(string Id, string Text, ImmutableArray<string> Parts, string Note = "") : Stored, IPart
{
    /// <summary>Characters of a statement at most.</summary>
    public const int LongestText = 500;

    /// <inheritdoc/>
    public string Name => Text;

    /// <inheritdoc/>
    public string Label => Text;
}

/// <summary>A plain statement that the model must satisfy, checked at each edit: <c>R + D never falls</c>.</summary>
/// <param name="Id">Names it within its study, never changed.</param>
/// <param name="Text">The text as typed.</param>
/// <param name="Note">What somebody wrote beside it.</param>
public sealed record Expectation(string Id, string Text, string Note = "") : Stored, IPart
{
    /// <inheritdoc/>
    public string Name => Text;

    /// <inheritdoc/>
    public string Label => Text;
}
