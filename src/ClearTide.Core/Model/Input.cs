using System.Collections.Immutable;
using System.Text.Json.Serialization;
using ClearTide.Core.Expressions;

namespace ClearTide.Core.Model;

/// <summary>A known function of time: a table of points with rules for between, before and after them. Written
/// <c>vaccination(t)</c>.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Symbol">What formulas call it.</param>
/// <param name="Label">What people call it; may be empty.</param>
/// <param name="Points">In the study's unit of time, ascending.</param>
/// <param name="Note">What somebody wrote about it; may be empty.</param>
public sealed record Input(string Id, string Symbol, string Label, ImmutableArray<CurvePoint> Points, string Note = "")
    : Stored,
        ISymbolPart
{
    /// <summary>Points of one table at most.</summary>
    public const int MostPoints = 5000;

    /// <inheritdoc/>
    public string Unit { get; init; } = "";

    /// <summary>How values go from one point to the next.</summary>
    public Between Between { get; init; }

    /// <summary>How it goes on before the first point.</summary>
    public Beyond Before { get; init; }

    /// <summary>How it goes on after the last point.</summary>
    public Beyond After { get; init; }

    /// <summary>With which period it repeats, as typed; empty for from the first point to the last.</summary>
    public string Period { get; init; } = "";

    /// <summary>Whether somebody has said how it goes on after its last point; until then a run past it is a doubt.</summary>
    public bool AfterIsChosen { get; init; }

    /// <summary>What it is from later times on, in the order of time. Never stored.</summary>
    [JsonIgnore]
    public ImmutableArray<Instead> Later { get; init; } = [];
}
