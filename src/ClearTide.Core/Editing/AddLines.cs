using ClearTide.Core.Groups;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Adds what the quick line says: parts of every kind, with the compartments that flows need.</summary>
/// <param name="Text">One or several parts as the quick line takes them.</param>
/// <example>
/// <code>
/// var empty = new StudyDocument { Title = "Reeds" };
/// var result = new AddLines("A(0) = 100; A -> B at k; k = 0.1 per day").Apply(empty);
/// var study = result.Document ?? throw new InvalidOperationException(result.Refusal);
/// </code>
/// </example>
public sealed partial record AddLines(string Text) : Edit
{
    /// <summary>A study holds at most this many parts.</summary>
    public const int MostParts = 2000;

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document) => Build(document).Result;

    /// <summary>What applying it to <paramref name="document"/> would add, one phrase for each item, for the preview.</summary>
    /// <param name="document">The study; not changed.</param>
    public IReadOnlyList<string> Preview(StudyDocument document) => Build(document).Said;

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => string.Join("; ", Preview(before));

    private (EditResult Result, IReadOnlyList<string> Said) Build(StudyDocument document)
    {
        var (items, problem) = QuickLine.Read(Text);
        if (problem is not null)
            return (EditResult.Refused(problem), []);
        if (items.Count == 0)
            return (EditResult.Refused("Type a part to add, as in “S -> I : beta * S * I / N”."), []);
        var adding = new Adding(document);
        foreach (var (item, start) in items)
        {
            if ((adding.Problem(item) ?? adding.Add(item)) is { } wrong)
                return (EditResult.Refused(QuickLine.Move(wrong, Text, start, start + item.Text.Length)), []);
            if (WrittenSize.Refusal(adding.Document) is { } large)
                return (EditResult.Refused(large), []);
            if (adding.Document.Parts.Count() > MostParts)
                return (EditResult.Refused($"A study holds at most {MostParts:N0} parts."), []);
        }
        return (adding.Document, adding.Said);
    }
}
