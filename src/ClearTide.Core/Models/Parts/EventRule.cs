namespace ClearTide.Core.Models;

/// <summary>Something that happens at a time or when a condition becomes true: <c>at 30: S -> V : 400</c>.</summary>
/// <param name="Text">Trigger and actions as typed.</param>
public sealed record EventRule(string Id, string Label, string Text, string Note = "") : Stored, IPart
{
    public string Name => Label.Length > 0 ? Label : Text;
}
