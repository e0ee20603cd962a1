using ClearTide.Core.Units;

namespace ClearTide.Core.Model;

/// <summary>A value drawn anew from a distribution at a stated interval: <c>normal(1, 0.2) every 7 days</c>.</summary>
/// <param name="Text">The distribution and the interval as typed.</param>
public sealed record RandomInput(string Id, string Symbol, string Label, string Text, string Note = "") : Stored, ISymbolPart
{
    /// <inheritdoc/>
    public string Unit { get; init; } = "";
}
