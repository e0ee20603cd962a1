using System.Collections.Immutable;

namespace ClearTide.Core.Model;

/// <summary>
/// A model that is part of this one. Its parts are those whose symbols begin with its own and a point, <c>pond.N</c>, with the flows
/// between them; what it takes and what it offers follows from the lines.
/// </summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Symbol">The name before the point; of a module in a module with that of the outer one, <c>farm.pond</c>.</param>
/// <param name="Label">What people call it; may be empty.</param>
public sealed record Module(string Id, string Symbol, string Label) : Stored
{
    /// <summary>The region that frames it on the paper; empty where none does.</summary>
    public string RegionId { get; init; } = "";

    /// <summary>What it was made from; null where it was made here.</summary>
    public ModuleSource? Source { get; init; }

    /// <summary>What the symbols of its parts begin with.</summary>
    public string Prefix => Symbol + ".";
}

/// <summary>What a module was made from, as it was then.</summary>
/// <param name="Of">Id of the study, or of a module of this study.</param>
/// <param name="Title">What that was called.</param>
/// <param name="Lines">Its lines when they were taken, so that what was changed since is told from what was changed there.</param>
public sealed record ModuleSource(string Of, string Title, ImmutableArray<SourceLine> Lines) : Stored;

/// <summary>A line of a source.</summary>
/// <param name="Key">What the part is called, without the name of the module.</param>
/// <param name="Text">The part as a line.</param>
public sealed record SourceLine(string Key, string Text) : Stored;
