using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Diagnostics;

/// <summary>How much a finding matters: an unfinished part runs as zero; a doubt leaves the run as it is.</summary>
public enum Severity
{
    /// <summary>The model cannot run before it is mended.</summary>
    Unfinished,

    /// <summary>The model runs, and something in it may not be meant.</summary>
    Doubt,
}

/// <summary>A fix that a finding offers: a sentence for its button, and the edit that does it.</summary>
/// <param name="Label">The words of its button.</param>
/// <param name="Edit">The edit that does it.</param>
public sealed record FindingFix(string Label, Edit Edit);

/// <summary>What is wrong or doubtful with a part, in a sentence, with fixes where there are any.</summary>
/// <param name="PartId">The part it concerns, or null for the study.</param>
/// <param name="Field">Which of the part's fields it concerns.</param>
/// <param name="Severity">Whether the part can be run in spite of it.</param>
/// <param name="Span">Where in the field's text, or null for the whole.</param>
/// <param name="Message">One or two sentences that say what to do.</param>
/// <param name="Fixes">What a click would put right; may be empty.</param>
public sealed record Finding(
    string? PartId,
    PartField Field,
    Severity Severity,
    TextSpan? Span,
    string Message,
    IReadOnlyList<FindingFix> Fixes
)
{
    /// <summary>Which of several fields of the kind, for the ends of a flow.</summary>
    public int At { get; init; }

    /// <summary>Whether it only tells what a run did, and nothing is doubtful about it.</summary>
    public bool IsNote { get; init; }

    /// <summary>Whether it asks for what its field is to hold, so that the field stands beside it.</summary>
    public bool Asks { get; init; }
}
