namespace ClearTide.Core.Model;

/// <summary>A value drawn anew from a distribution at a stated interval: <c>normal(1, 0.2) every 7 days</c>.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Symbol">What formulas call it.</param>
/// <param name="Label">What people call it; may be empty.</param>
/// <param name="Text">The distribution and the interval as typed.</param>
/// <param name="Note">What somebody wrote about it; may be empty.</param>
public sealed record RandomInput(string Id, string Symbol, string Label, string Text, string Note = "") : Stored, ISymbolPart
{
    /// <inheritdoc/>
    public string Unit { get; init; } = "";
}
