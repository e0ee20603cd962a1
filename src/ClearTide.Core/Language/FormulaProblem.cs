namespace ClearTide.Core.Language;

/// <summary>A stretch of a typed text: position of its first character and its length.</summary>
/// <param name="Start">Of the first character, from 0.</param>
/// <param name="Length">Number of characters.</param>
public readonly record struct TextSpan(int Start, int Length)
{
    /// <summary>The first place behind it.</summary>
    public int End => Start + Length;

    /// <summary>From where the first begins to where the last ends.</summary>
    /// <param name="first">A stretch.</param>
    /// <param name="last">One that ends after it begins.</param>
    public static TextSpan Between(TextSpan first, TextSpan last) => new(first.Start, last.End - first.Start);
}

/// <summary>A change of the typed text that would mend a problem: <paramref name="Replacement"/> is the whole new text.</summary>
/// <param name="Label">The words of its button.</param>
/// <param name="Replacement">The whole new text.</param>
public sealed record TextFix(string Label, string Replacement);

/// <summary>What is wrong with a typed text: where, in one sentence that says what to do, and the fixes on offer.</summary>
/// <param name="Span">Where it is.</param>
/// <param name="Message">One sentence that says what to do.</param>
/// <param name="Fixes">What would mend it; empty for nothing.</param>
public sealed record FormulaProblem(TextSpan Span, string Message, IReadOnlyList<TextFix> Fixes)
{
    /// <summary>A problem that has no fix.</summary>
    /// <param name="span">Where it is.</param>
    /// <param name="message">One sentence that says what to do.</param>
    public FormulaProblem(TextSpan span, string message)
        : this(span, message, []) { }
}

/// <summary>Carries the first problem out of the reader; caught at the boundary of the package, never seen outside.</summary>
internal sealed class FormulaException(FormulaProblem problem) : Exception(problem.Message)
{
    public FormulaProblem Problem { get; } = problem;
}
