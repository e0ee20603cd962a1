namespace ClearTide.Core.Model;

/// <summary>By which rules a typed line is read.</summary>
public enum LineForm
{
    /// <summary>A formula alone.</summary>
    Formula,

    /// <summary>An initial amount: a formula, the rest of a total, or an equilibrium.</summary>
    Start,

    /// <summary>A distribution and how often it is drawn from.</summary>
    Draw,

    /// <summary>What is taken and made, and at which rate.</summary>
    Reaction,

    /// <summary>A trigger and its actions.</summary>
    Event,

    /// <summary>A statement that is checked.</summary>
    Expectation,
}
