using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Groups;

/// <summary>One member of a split part, as a part of its own.</summary>
/// <param name="Id">Its id in the document that is written out.</param>
/// <param name="BaseId">Id of the split part in the study.</param>
/// <param name="Members">Its indices, one for each group.</param>
public sealed record WrittenMember(string Id, string BaseId, ImmutableArray<string> Members)
{
    /// <summary>Its indices as its lines are kept by: <c>child,old</c>.</summary>
    public string Key => string.Join(',', Members);
}

/// <summary>What kept a line from being written out.</summary>
/// <param name="PartId">The part of the document that is written out.</param>
/// <param name="Field">Which of its fields the line stands in.</param>
/// <param name="At">Which of several such fields it is.</param>
/// <param name="Text">The line as typed.</param>
/// <param name="Span">Where in the line.</param>
/// <param name="Message">A sentence that says what to do.</param>
/// <param name="Fixes">What may stand at <paramref name="Span"/> instead.</param>
public sealed record WrittenProblem(
    string PartId,
    PartField Field,
    int At,
    string Text,
    TextSpan Span,
    string Message,
    IReadOnlyList<(string Label, string With)> Fixes
);

/// <summary>
/// A study with all its groups written out: one compartment, value or flow for each member, in a plain document that has no groups. It is
/// what is
/// computed, so that whatever a model without groups can do, one with groups can: chance, fits, projections, subjects.
/// A split compartment leaves its total under its own id and symbol; a value that is the same for all members stays one value, which they
/// repeat.
/// </summary>
public sealed class WrittenOut
{
    private static readonly ConditionalWeakTable<StudyDocument, WrittenOut> Known = [];

    private readonly Dictionary<string, WrittenMember> _byId = [];
    private readonly Dictionary<string, List<WrittenMember>> _byBase = [];

    internal WrittenOut(StudyDocument study) => (Study, Document) = (study, study);

    /// <summary>The study as it was made.</summary>
    public StudyDocument Study { get; }

    /// <summary>The same without groups; the study itself where it has none.</summary>
    public StudyDocument Document { get; internal set; }

    /// <summary>Whether anything was written out.</summary>
    public bool HasGroups => !ReferenceEquals(Study, Document);

    /// <summary>Lines whose indices could not be filled in; they count as zero.</summary>
    public IReadOnlyList<WrittenProblem> Problems { get; internal set; } = [];

    /// <summary>A study written out, made once for each document however often it is asked for.</summary>
    /// <param name="study">The study as it is edited, not written out.</param>
    public static WrittenOut Of(StudyDocument study) =>
        study.Groups.IsEmpty ? new(study) : Known.GetValue(study, static asked => new MemberWriter(asked).Write());

    /// <summary>A formula over the study as one over what is written out; itself where its indices cannot be filled in.</summary>
    internal Syntax Spell(Syntax tree)
    {
        if (!HasGroups)
            return tree;
        try
        {
            return new IndexedFormula(new(Study)).Write(tree, Coordinates.None);
        }
        catch (IndexException)
        {
            return tree;
        }
    }

    /// <summary>The members of a part of the study; empty for one that is not split.</summary>
    /// <param name="partId">Id of the part.</param>
    public IReadOnlyList<WrittenMember> Members(string partId) => _byBase.GetValueOrDefault(partId, []);

    /// <summary>All flows and reactions that can be counted, by id and in words: those of the study, then those of each member.</summary>
    public IEnumerable<(string Id, string Name)> Moving =>
        Study
            .Moving.Select(part => (Part: part, In: Study))
            .Concat(
                Study.Flows.SelectMany(flow => Members(flow.Id)).Select(member => (Part: (IPart)Document.Flow(member.Id)!, In: Document))
            )
            .Select(pair => (pair.Part.Id, Said(pair.In, pair.Part)));

    private static string Said(StudyDocument document, IPart part) =>
        $"{MemberName.Print(document.Describe(part))} {(part.Label == part.Name && part is Reaction ? "" : part.Label)}".Trim();

    /// <summary>The member that a part of the document is, or null.</summary>
    /// <param name="id">Id of a part of the written-out document.</param>
    public WrittenMember? Member(string id) => _byId.GetValueOrDefault(id);

    /// <summary>The part of the study that a part of the document belongs to.</summary>
    /// <param name="id">Id of a part of the written-out document.</param>
    public string BaseOf(string id) => _byId.TryGetValue(id, out var member) ? member.BaseId : id;

    /// <summary>The id of one member of a part.</summary>
    /// <param name="partId">Id of the part.</param>
    /// <param name="members">One member for each of its groups.</param>
    public static string IdOf(string partId, IEnumerable<string> members) => $"{partId}.{string.Join('.', members)}";

    internal void Add(WrittenMember member)
    {
        _byId[member.Id] = member;
        if (!_byBase.TryGetValue(member.BaseId, out var list))
            _byBase[member.BaseId] = list = [];
        list.Add(member);
    }
}
