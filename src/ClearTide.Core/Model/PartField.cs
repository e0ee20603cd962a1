namespace ClearTide.Core.Model;

/// <summary>The editable fields of parts.</summary>
public enum PartField
{
    /// <summary>The symbol that formulas use.</summary>
    Symbol,

    /// <summary>What people call it.</summary>
    Label,

    /// <summary>What somebody wrote about it.</summary>
    Note,

    /// <summary>Its unit as typed.</summary>
    Unit,

    /// <summary>Where its value comes from.</summary>
    Origin,

    /// <summary>The colour of a plate.</summary>
    Colour,

    /// <summary>The main line of a definition, a random input, an event or a statement.</summary>
    Text,

    /// <summary>A compartment's initial amount.</summary>
    Start,

    /// <summary>A compartment's next value in discrete steps.</summary>
    Next,

    /// <summary>Whether falling below zero stops a run.</summary>
    NeverBelowZero,

    /// <summary>Whether chance moves whole units.</summary>
    WholeUnits,

    /// <summary>A flow's rate; without a word before it, it stays of the kind it was.</summary>
    Rate,

    /// <summary>How a flow's rate is given: per head, by a mean stay, or whole.</summary>
    RateKind,

    /// <summary>The share of one end of a flow.</summary>
    Share,

    /// <summary>The symbol of one end of a flow; empty takes the end away.</summary>
    Target,

    /// <summary>The symbol of the compartment a flow leaves.</summary>
    Source,

    /// <summary>Stages of the stay before a flow.</summary>
    Stages,

    /// <summary>Whether the initial amount is spread over the stages.</summary>
    SpreadStart,

    /// <summary>Whether a flow takes no more than there is.</summary>
    Limited,

    /// <summary>How much the rate of a flow varies by chance.</summary>
    Noise,

    /// <summary>The least that a value can be.</summary>
    Lower,

    /// <summary>The most that a value can be.</summary>
    Upper,

    /// <summary>The points of a table.</summary>
    Points,

    /// <summary>How values go from one point to the next.</summary>
    Between,

    /// <summary>How a table goes on before its first point.</summary>
    Before,

    /// <summary>How a table goes on after its last point.</summary>
    After,

    /// <summary>With which period a table repeats.</summary>
    Period,

    /// <summary>The unit of what a curve is a function of.</summary>
    ArgumentUnit,

    /// <summary>How a response curve is given.</summary>
    Law,

    /// <summary>The value of a curve at its low end.</summary>
    Low,

    /// <summary>The value of a curve at its high end.</summary>
    High,

    /// <summary>Where a curve is half way.</summary>
    Half,

    /// <summary>How steep a curve is.</summary>
    Slope,

    /// <summary>Below this a curve holds its value.</summary>
    From,

    /// <summary>Above this a curve holds its value.</summary>
    Until,

    /// <summary>Which event goes first of several at one instant.</summary>
    Priority,

    /// <summary>Whether late actions use the values at the trigger.</summary>
    ValuesAtTrigger,

    /// <summary>Whether actions are made at once.</summary>
    Together,

    /// <summary>Whether a condition that is true at the start counts.</summary>
    ActsAtStart,

    /// <summary>Whether late actions are dropped when the condition ends.</summary>
    DroppedWhenFalse,

    /// <summary>Whether a run stops where there is too little to move.</summary>
    StopsWhenShort,

    /// <summary>The parts an assumption is tied to, as symbols.</summary>
    Parts,
}
