namespace ClearTide.Core.Model;

/// <summary>
/// A process that consumes and produces several amounts at once, in fixed proportions: <c>A + 2 B -> C : k * A * B</c>. Its symbol stands
/// for its rate. A transfer from one compartment to others is a flow instead.
/// </summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Symbol">What formulas call it.</param>
/// <param name="Label">What people call it; may be empty.</param>
/// <param name="Text">What it takes and makes, and its rate, as typed.</param>
/// <param name="Note">What somebody wrote about it; may be empty.</param>
public sealed record Reaction(string Id, string Symbol, string Label, string Text, string Note = "") : Stored, ISymbolPart
{
    /// <inheritdoc/>
    public string Unit { get; init; } = "";
}
