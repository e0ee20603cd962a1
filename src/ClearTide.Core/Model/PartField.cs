using ClearTide.Core.Expressions;
using ClearTide.Core.Stochastic;
using ClearTide.Core.Units;

namespace ClearTide.Core.Model;

/// <summary>The editable fields of parts.</summary>
public enum PartField
{
    Symbol,
    Label,
    Note,
    Unit,
    Origin,
    Colour,

    /// <summary>The main line of a definition, a random input, an event or a statement.</summary>
    Text,

    /// <summary>A compartment's initial amount.</summary>
    Start,

    /// <summary>A compartment's next value in discrete steps.</summary>
    Next,
    NeverBelowZero,
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
    Stages,
    SpreadStart,
    Limited,

    Lower,
    Upper,

    Points,
    Between,
    Before,
    After,
    Period,

    ArgumentUnit,
    Law,
    Low,
    High,
    Half,
    Slope,
    From,
    Until,

    Priority,
    ValuesAtTrigger,
    Together,
    ActsAtStart,
    DroppedWhenFalse,
    StopsWhenShort,

    /// <summary>The parts an assumption is tied to, as symbols.</summary>
    Parts,
}
