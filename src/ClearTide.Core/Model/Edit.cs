using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>What an edit came to: the next document, or a refusal that says what to do.</summary>
/// <param name="Document">The next document, or null where the edit is refused.</param>
/// <param name="Refusal">What to do, in one sentence; null where it is not refused.</param>
/// <param name="Span">Where in the typed text that is, or null.</param>
/// <param name="Fixes">What would mend it, or null.</param>
public sealed record EditResult(StudyDocument? Document, string? Refusal, TextSpan? Span = null, IReadOnlyList<TextFix>? Fixes = null)
{
    /// <summary>The edit is refused; the sentence says what to do.</summary>
    /// <param name="why">What to do, in one sentence.</param>
    public static EditResult Refused(string why) => new(null, why);

    /// <summary>The edit is refused for what is wrong with a typed line.</summary>
    /// <param name="problem">What is wrong with the line.</param>
    public static EditResult Refused(FormulaProblem problem) => new(null, problem.Message, problem.Span, problem.Fixes);

    /// <summary>An edit that was made results in its document.</summary>
    /// <param name="document">The next document.</param>
    public static implicit operator EditResult(StudyDocument document) => new(document, null);
}

/// <summary>A change of a study. Applying it never alters the document it is given.</summary>
public abstract record Edit
{
    /// <summary>The document after the edit, or why it is refused; the one before is not changed.</summary>
    /// <param name="document">The study; not changed.</param>
    public abstract EditResult Apply(StudyDocument document);

    /// <summary>The edit in a few words for the history, told from the document before it.</summary>
    /// <param name="before">The document before.</param>
    public abstract string Describe(StudyDocument before);

    /// <summary>What the edit is about, where several of them in a row are one step of the history; null where each is a step of its
    /// own.</summary>
    public virtual string? Topic => null;
}
