using System.Text.Json.Serialization;

namespace ClearTide.Core.Model;

/// <summary>Something that happens at a time or when a condition becomes true: <c>at 30: S -> V : 400</c>.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Label">What people call it; may be empty.</param>
/// <param name="Text">Trigger and actions as typed.</param>
/// <param name="Note">What somebody wrote about it; may be empty.</param>
public sealed record EventRule(string Id, string Label, string Text, string Note = "") : Stored, IPart
{
    /// <inheritdoc/>
    public string Name => Label.Length > 0 ? Label : Text;

    /// <summary>Among what happens at one instant the highest goes first, and what has one before what has none; a formula as typed, or
    /// empty.</summary>
    public string Priority { get; init; } = "";

    /// <summary>Whether its actions use values as they were at the trigger, where they act later.</summary>
    public bool ValuesAtTrigger { get; init; }

    /// <summary>Whether its actions are made at once, so that none sees what another has changed.</summary>
    public bool Together { get; init; }

    /// <summary>Whether a condition that is true at the start counts as having become true there.</summary>
    public bool ActsAtStart { get; init; }

    /// <summary>Whether a run stops where it is to move more than is there; else all that is there is moved.</summary>
    public bool StopsWhenShort { get; init; }

    /// <summary>The time from which on it may act, in the study's unit of time: that of a scenario begins with the future. Never
    /// stored.</summary>
    [JsonIgnore]
    public double NotBefore { get; init; } = double.NegativeInfinity;

    /// <summary>The time from which on it no longer acts: where the future begins, of doses that a scenario replaces. Never
    /// stored.</summary>
    [JsonIgnore]
    public double NotAfter { get; init; } = double.PositiveInfinity;

    /// <summary>Whether a run records from when until when its change is held. Never stored.</summary>
    [JsonIgnore]
    public bool IsWatched { get; init; }

    /// <summary>Whether actions that are still to come are dropped when the condition becomes false.</summary>
    public bool DroppedWhenFalse { get; init; }
}
