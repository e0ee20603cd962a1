using System.Collections.Immutable;

namespace ClearTide.Core.Model;

/// <summary>A distance on the diagram's paper, in paper units, from where the program would put something.</summary>
/// <param name="X">To the right, in paper units.</param>
/// <param name="Y">Downward, in paper units.</param>
public sealed record Offset(double X, double Y);

/// <summary>A named area of the diagram that can be folded: compartments that are shown as one plate while it is.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Label">What people call it; may be empty.</param>
/// <param name="Members">Ids of its compartments, in the order of the ledger; a compartment is in one region at most.</param>
/// <param name="Folded">Whether it is shown as one plate.</param>
public sealed record Region(string Id, string Label, ImmutableArray<string> Members, bool Folded = false) : Stored;

/// <summary>A compartment shown a second time at another place, so that no ribbon has to cross the page.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Of">Id of the compartment.</param>
/// <param name="X">Left edge of the plate, in paper units.</param>
/// <param name="Y">Top edge of the plate.</param>
public sealed record Reference(string Id, string Of, double X, double Y) : Stored;

/// <summary>Words on the paper: free text, or a part's note pinned beside it.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Text">Free text; empty for a pinned note, which is kept with its part.</param>
/// <param name="X">Left edge, in paper units.</param>
/// <param name="Y">Top edge.</param>
/// <param name="Of">Id of the part whose note it shows, or null for free text.</param>
public sealed record PaperText(string Id, string Text, double X, double Y, string? Of = null) : Stored;
