using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Shows a compartment a second time at another place.</summary>
/// <param name="PartId">Id of the compartment.</param>
/// <param name="X">Left edge, in paper units.</param>
/// <param name="Y">Upper edge, in paper units.</param>
public sealed record AddReference(string PartId, double X, double Y) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Compartment(PartId) is null)
            return EditResult.Refused("A reference shows a compartment: select one first.");
        if (!double.IsFinite(X) || !double.IsFinite(Y))
            return EditResult.Refused("A place on the paper is two numbers.");
        if (document.References.Length >= AddLines.MostParts)
            return EditResult.Refused($"A study holds at most {AddLines.MostParts:N0} references.");
        return document with
        {
            NextId = document.NextId + 1,
            References = document.References.Add(new($"r{document.NextId}", PartId, MoveOnPaper.Within(X), MoveOnPaper.Within(Y))),
        };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"{before.Compartment(PartId)?.Symbol}: shown a second time";
}

/// <summary>Writes words on the paper, or changes those that are there; empty words are taken away.</summary>
/// <param name="TextId">Which text, or null for a new one.</param>
/// <param name="Text">The words.</param>
/// <param name="X">Left edge, in paper units.</param>
/// <param name="Y">Top edge.</param>
public sealed record WriteText(string? TextId, string Text, double X = 0, double Y = 0) : Edit
{
    /// <summary>Characters that a text on the paper has at most.</summary>
    public const int Longest = 1000;

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var text = Text.Trim();
        if (text.Length > Longest)
            return EditResult.Refused(
                $"A text on the paper has at most {Longest:N0} characters. Longer ones belong into a note or the description."
            );
        if (TextId is null)
        {
            if (text.Length == 0)
                return EditResult.Refused("Type the words that are to stand on the paper.");
            if (!double.IsFinite(X) || !double.IsFinite(Y))
                return EditResult.Refused("A place on the paper is two numbers.");
            if (document.Texts.Length >= AddLines.MostParts)
                return EditResult.Refused($"A study holds at most {AddLines.MostParts:N0} texts.");
            return document with
            {
                NextId = document.NextId + 1,
                Texts = document.Texts.Add(new($"n{document.NextId}", text, MoveOnPaper.Within(X), MoveOnPaper.Within(Y))),
            };
        }
        if (document.Texts.FirstOrDefault(mark => mark.Id == TextId) is not { } known)
            return EditResult.Refused("This text is no longer in the study.");
        // A pinned note is its part's note: there is one of it.
        if (known.Of is { } part)
            return new SetField(part, PartField.Note, text).Apply(document);
        return document with
        {
            Texts = text.Length == 0 ? document.Texts.Remove(known) : document.Texts.Replace(known, known with { Text = text }),
        };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => TextId is null ? "wrote a text on the paper" : "changed a text on the paper";
}

/// <summary>Pins a part's note on the paper beside it, or takes it down again.</summary>
/// <param name="PartId">Id of the part.</param>
/// <param name="X">Left edge, in paper units.</param>
/// <param name="Y">Upper edge, in paper units.</param>
public sealed record PinNote(string PartId, double X, double Y) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Part(PartId) is not { } part)
            return EditResult.Refused("This part is no longer in the study.");
        if (document.Texts.FirstOrDefault(mark => mark.Of == PartId) is { } pinned)
            return document with { Texts = document.Texts.Remove(pinned) };
        if (string.IsNullOrWhiteSpace(part.Note))
            return EditResult.Refused($"{document.Describe(part)} has no note yet. Write one in its line, then pin it.");
        if (!double.IsFinite(X) || !double.IsFinite(Y))
            return EditResult.Refused("A place on the paper is two numbers.");
        return document with
        {
            NextId = document.NextId + 1,
            Texts = document.Texts.Add(new($"n{document.NextId}", "", MoveOnPaper.Within(X), MoveOnPaper.Within(Y), PartId)),
        };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        before.Part(PartId) is { } part
            ? $"{before.Describe(part)}: note {(before.Texts.Any(mark => mark.Of == PartId) ? "taken down" : "pinned")}"
            : "note pinned";
}

/// <summary>Takes a reference or a text off the paper.</summary>
/// <param name="MarkId">Id of the reference or text.</param>
public sealed record RemoveMark(string MarkId) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var next = document with
        {
            References = document.References.RemoveAll(mark => mark.Id == MarkId),
            Texts = document.Texts.RemoveAll(mark => mark.Id == MarkId),
        };
        return next.References.Length == document.References.Length && next.Texts.Length == document.Texts.Length
            ? EditResult.Refused("This is no longer on the paper.")
            : next;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        before.References.FirstOrDefault(mark => mark.Id == MarkId) is { } mark
            ? $"{before.Compartment(mark.Of)?.Symbol}: second showing removed"
            : "removed a text";
}
