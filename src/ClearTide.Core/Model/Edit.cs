using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>What an edit came to: the next document, or a refusal that says what to do.</summary>
public sealed record EditResult(StudyDocument? Document, string? Refusal, TextSpan? Span = null, IReadOnlyList<TextFix>? Fixes = null)
{
    public static EditResult Refused(string why) => new(null, why);

    public static EditResult Refused(FormulaProblem problem) => new(null, problem.Message, problem.Span, problem.Fixes);

    public static implicit operator EditResult(StudyDocument document) => new(document, null);
}

/// <summary>A change of a study. Applying it never alters the document it is given.</summary>
public abstract record Edit
{
    public abstract EditResult Apply(StudyDocument document);

    /// <summary>The edit in a few words for the history, told from the document before it.</summary>
    public abstract string Describe(StudyDocument before);

    /// <summary>What the edit is about, where several of them in a row are one step of the history; null where each is a step of its
    /// own.</summary>
    public virtual string? Topic => null;
}
