using System.Collections.Immutable;

namespace ClearTide.Core.Model;

/// <summary>
/// What there is to know of one kind of part: what it is called, where a document holds such parts, and which fields they have. A new kind
/// is described once, in this folder; what goes through all parts goes through <see cref="PartKinds.All"/>.
/// </summary>
public abstract class PartKind
{
    /// <summary>The record that parts of this kind are.</summary>
    public abstract Type PartType { get; }

    /// <summary>What the part is called, with its article: “a quantity”.</summary>
    /// <param name="part">The part.</param>
    public abstract string Noun(IPart part);

    /// <summary>The document's parts of this kind, in the order of the ledger.</summary>
    /// <param name="document">The study; not changed.</param>
    public abstract IEnumerable<IPart> In(StudyDocument document);

    /// <summary>The document with the part in the place of the one of its id, or at the end where there is none.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="part">A part of this kind.</param>
    public abstract StudyDocument Put(StudyDocument document, IPart part);

    /// <summary>The document without the parts whose ids are gone.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="gone">Whether the part of an id is to go.</param>
    public abstract StudyDocument Without(StudyDocument document, Predicate<string> gone);

    /// <summary>The document with a part of this kind before another of it, or last where that is null; as it was where either is of
    /// another kind.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="partId">Id of the part.</param>
    /// <param name="beforeId">Id of the part to stand before, or null for the end.</param>
    public abstract StudyDocument Moved(StudyDocument document, string partId, string? beforeId);

    /// <summary>Whether parts of this kind have such a field.</summary>
    /// <param name="field">The field.</param>
    public abstract bool Has(PartField field);

    /// <summary>The text in a field as typed, or null where the part has no such field.</summary>
    /// <param name="part">A part of this kind.</param>
    /// <param name="field">Any field.</param>
    /// <param name="at">Which of several it is, for the ends of a flow.</param>
    public abstract string? Text(IPart part, PartField field, int at = 0);

    /// <summary>The part with another text in a field.</summary>
    /// <param name="part">The part.</param>
    /// <param name="field">The field.</param>
    /// <param name="value">The new text.</param>
    /// <param name="at">Which of several, from 0, where the field has more than one.</param>
    /// <exception cref="FieldRefusedException">There is no such field, or it cannot keep this text.</exception>
    public abstract IPart With(IPart part, PartField field, string value, int at = 0);

    /// <summary>All lines of a part that can name other parts.</summary>
    /// <param name="part">The part.</param>
    public abstract IEnumerable<PartLine> Lines(IPart part);

    /// <summary>The document with all such lines of this kind rewritten.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="rewrite">Gives a line of a form in its new words; itself where nothing changes.</param>
    public abstract StudyDocument WithLines(StudyDocument document, Func<LineForm, string, string> rewrite);
}

/// <inheritdoc/>
/// <param name="noun">What a part of the kind is called, with its article.</param>
/// <param name="get">The document's list of them.</param>
/// <param name="set">The document with another list of them.</param>
/// <param name="fields">Their fields that have a text; what is edited by a rule of its own is not among them.</param>
internal sealed class PartKind<T>(
    Func<T, string> noun,
    Func<StudyDocument, ImmutableArray<T>> get,
    Func<StudyDocument, ImmutableArray<T>, StudyDocument> set,
    params KindField<T>[] fields
) : PartKind
    where T : class, IPart
{
    private readonly Dictionary<PartField, KindField<T>> _fields = fields.ToDictionary(field => field.Field);
    private readonly KindField<T>[] _lines = [.. fields.Where(field => field.Form is not null)];

    public override Type PartType => typeof(T);

    public override string Noun(IPart part) => noun((T)part);

    public override IEnumerable<IPart> In(StudyDocument document) => get(document);

    public override StudyDocument Put(StudyDocument document, IPart part) => set(document, get(document).Put((T)part));

    public override StudyDocument Without(StudyDocument document, Predicate<string> gone)
    {
        var parts = get(document);
        var kept = parts.RemoveAll(part => gone(part.Id));
        return kept.Length == parts.Length ? document : set(document, kept);
    }

    public override StudyDocument Moved(StudyDocument document, string partId, string? beforeId)
    {
        var parts = get(document);
        if (partId == beforeId || parts.FirstOrDefault(part => part.Id == partId) is not { } part)
            return document;
        var without = parts.Remove(part);
        var at = beforeId is null ? without.Length : PartIndex<T>.IndexOf(without, beforeId);
        return at < 0 ? document : set(document, without.Insert(at, part));
    }

    public override bool Has(PartField field) => _fields.ContainsKey(field);

    public override string? Text(IPart part, PartField field, int at = 0) =>
        _fields.TryGetValue(field, out var found) && at >= 0 && at < found.Count((T)part) ? found.Read((T)part, at) : null;

    public override IPart With(IPart part, PartField field, string value, int at = 0) =>
        _fields.TryGetValue(field, out var found) && at >= 0 && at < found.Count((T)part)
            ? found.Write((T)part, at, value)
            : throw new FieldRefusedException("This part has no such field.");

    public override IEnumerable<PartLine> Lines(IPart part)
    {
        foreach (var line in _lines)
        {
            var count = line.Count((T)part);
            for (var at = 0; at < count; at++)
                yield return new(line.Field, at, line.Form!.Value, line.Read((T)part, at));
        }
    }

    public override StudyDocument WithLines(StudyDocument document, Func<LineForm, string, string> rewrite)
    {
        var parts = get(document);
        for (var k = 0; k < parts.Length; k++)
        {
            var part = parts[k];
            foreach (var line in Lines(parts[k]))
            {
                var text = line.Text.Length == 0 ? "" : rewrite(line.Form, line.Text);
                if (text != line.Text)
                    part = _fields[line.Field].Write(part, line.At, text);
            }
            if (!ReferenceEquals(part, parts[k]))
                parts = parts.SetItem(k, part);
        }
        return parts == get(document) ? document : set(document, parts);
    }
}
