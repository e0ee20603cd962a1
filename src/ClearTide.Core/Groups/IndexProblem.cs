using ClearTide.Core.Language;

namespace ClearTide.Core.Groups;

/// <summary>An index that cannot be filled in; caught where formulas are written out.</summary>
internal sealed class IndexException(TextSpan span, string message, params IReadOnlyList<(string Label, string With)> fixes)
    : Exception(message)
{
    /// <summary>The name or sum it is about, in the text as typed.</summary>
    public TextSpan Span { get; } = span;

    /// <summary>What may stand in its place.</summary>
    public IReadOnlyList<(string Label, string With)> Fixes { get; } = fixes;
}
