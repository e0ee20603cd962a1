namespace ClearTide.Core.Model;

/// <summary>A compartment: an amount of something in one state. <paramref name="Start"/> is its initial amount as typed.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Symbol">What formulas call it.</param>
/// <param name="Label">What people call it; may be empty.</param>
/// <param name="Start">The initial amount as typed; empty for none.</param>
/// <param name="X">Left edge of its plate on the diagram's paper, in paper units.</param>
/// <param name="Y">Top edge of its plate.</param>
/// <param name="Note">What somebody wrote about it; may be empty.</param>
public sealed record Compartment(string Id, string Symbol, string Label, string Start, double X, double Y, string Note = "")
    : Stored,
        ISymbolPart
{
    /// <inheritdoc/>
    public string Unit { get; init; } = "";

    /// <summary>Its next value outright, as typed, for models in discrete steps; empty where flows move it.</summary>
    public string Next { get; init; } = "";

    /// <summary>Where the initial amount comes from.</summary>
    public Origin Origin { get; init; }

    /// <summary>Whether falling below zero stops a run.</summary>
    public bool NeverBelowZero { get; init; }

    /// <summary>Whether chance moves whole units of it.</summary>
    public bool WholeUnits { get; init; } = true;

    /// <summary>Whether automatic arranging leaves its plate where it is.</summary>
    public bool Pinned { get; init; }

    /// <summary>Number of a colour of the palette, or 0 for the one that its place gives.</summary>
    public int Colour { get; init; }
}
