namespace ClearTide.Core.Simulation;

/// <summary>Sets one number of a run: a state or a parameter, to the value of a node just before, or adds that value to it.</summary>
/// <param name="IsState">Whether a state is set; else a parameter.</param>
/// <param name="Index">Of the state or parameter, from 0.</param>
/// <param name="Node">The node of the value.</param>
public readonly record struct Assignment(bool IsState, int Index, int Node)
{
    /// <summary>Whether the value is added to what is there instead of replacing it.</summary>
    public bool Adds { get; init; }
}

/// <summary>What an action takes out of a compartment, for those who want to know when it runs short.</summary>
/// <param name="Action">Which of the event's actions takes it.</param>
/// <param name="PartId">The compartment.</param>
/// <param name="Asked">Node of the amount that was to be taken.</param>
/// <param name="There">Node of the amount that can be.</param>
/// <param name="Stops">Whether a run stops where less is there than is asked for; else all that is there is taken.</param>
public sealed record Withdrawal(int Action, string PartId, int Asked, int There, bool Stops);

/// <summary>
/// Something that happens at times or whenever a condition becomes true. Its actions are done in order, each seeing those before it; the
/// assignments of one action are made at once.
/// </summary>
/// <param name="PartId">Id of the event in the study.</param>
/// <param name="Time">Node of its first time over parameters alone, or -1 for an event with a condition.</param>
/// <param name="Every">Node of the interval at which it repeats, or -1.</param>
/// <param name="Condition">Node of its condition, or -1.</param>
/// <param name="Most">How often it is triggered at most; 0 for as often as it comes.</param>
/// <param name="Actions">For each action the assignments that are made at once.</param>
public sealed record ModelEvent(
    string PartId,
    int Time,
    int Every,
    int Condition,
    int Most,
    IReadOnlyList<IReadOnlyList<Assignment>> Actions
)
{
    /// <summary>What its actions take out of compartments.</summary>
    public IReadOnlyList<Withdrawal> Withdrawals { get; init; } = [];

    /// <summary>Node of the last time at which it may repeat, over parameters alone, or -1.</summary>
    public int Until { get; init; } = -1;

    /// <summary>Whether it ends what another event of the same part has begun.</summary>
    public bool MarksEnd { get; init; }

    /// <summary>The time before which what is timed does not happen.</summary>
    public double NotBefore { get; init; } = double.NegativeInfinity;

    /// <summary>The time from which on what is timed no longer happens.</summary>
    public double NotAfter { get; init; } = double.PositiveInfinity;

    /// <summary>Node of the time between trigger and action, or -1 for none.</summary>
    public int Delay { get; init; } = -1;

    /// <summary>Whether its actions use values as they were at the trigger, not as they are when it acts.</summary>
    public bool ValuesAtTrigger { get; init; }

    /// <summary>Whether a delayed action is dropped when the condition becomes false before it is due.</summary>
    public bool IsDroppedWhenFalse { get; init; }

    /// <summary>Whether a condition that is true at the start counts as having become true there.</summary>
    public bool ActsAtStart { get; init; }

    /// <summary>Node of its priority among what happens at one instant, or -1. The highest acts first; those without one act in stored
    /// order behind those with one.</summary>
    public int Priority { get; init; } = -1;
}
