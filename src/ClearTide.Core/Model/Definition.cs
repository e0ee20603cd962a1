namespace ClearTide.Core.Model;

/// <summary>A named line: a parameter if it holds no names, else a quantity.</summary>
/// <param name="Id">Names it within its study, never changed.</param>
/// <param name="Symbol">The name in formulas.</param>
/// <param name="Label">The name that people read.</param>
/// <param name="Text">The formula or number as typed.</param>
/// <param name="Origin">Where the number comes from.</param>
/// <param name="Note">What somebody wrote beside it.</param>
public sealed record Definition(string Id, string Symbol, string Label, string Text, Origin Origin = Origin.Guess, string Note = "")
    : Stored,
        ISymbolPart
{
    /// <inheritdoc/>
    public string Unit { get; init; } = "";

    /// <summary>The least the value can be, as typed; empty for no bound.</summary>
    public string Lower { get; init; } = "";

    /// <summary>The most the value can be, as typed; empty for no bound.</summary>
    public string Upper { get; init; } = "";
}
