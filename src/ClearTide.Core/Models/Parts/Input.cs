using System.Collections.Immutable;

namespace ClearTide.Core.Models;

/// <summary>A point of an input or a response curve.</summary>
public readonly record struct CurvePoint(double X, double Y);

/// <summary>What a table of points says between them.</summary>
public enum Between
{
    /// <summary>Straight lines from point to point.</summary>
    Line,

    /// <summary>Each value holds until the next point.</summary>
    Step,

    /// <summary>A smooth curve that rises and falls only where the points do.</summary>
    Smooth,
}

/// <summary>What an input says before its first point or after its last.</summary>
public enum Beyond { Hold, Trend, Repeat, Zero }

/// <summary>A known function of time: a table of points with rules for between, before and after them. Written <c>vaccination(t)</c>.</summary>
/// <param name="Points">In the study's unit of time, ascending.</param>
public sealed record Input(string Id, string Symbol, string Label, ImmutableArray<CurvePoint> Points, string Note = "") : Stored, ISymbolPart
{
    public const int MostPoints = 5000;

    public string Unit { get; init; } = "";

    public Between Between { get; init; }

    public Beyond Before { get; init; }

    public Beyond After { get; init; }

    /// <summary>With which period it repeats, as typed; empty for from the first point to the last.</summary>
    public string Period { get; init; } = "";

    /// <summary>Whether somebody has said how it goes on after its last point; until then a run past it is a doubt.</summary>
    public bool AfterIsChosen { get; init; }
}
