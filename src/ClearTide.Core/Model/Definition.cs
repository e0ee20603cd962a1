using ClearTide.Core.Units;

namespace ClearTide.Core.Model;

/// <summary>A named line: a parameter if it holds no names, else a quantity.</summary>
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
