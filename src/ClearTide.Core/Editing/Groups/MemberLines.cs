using ClearTide.Core.Groups;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>The lines of single members of split parts, under the ids that members have where they are written out.</summary>
public static class MemberLines
{
    /// <summary>The field that members of a part have lines of their own for.</summary>
    /// <param name="part">The part.</param>
    public static PartField FieldOf(IPart part) =>
        part switch
        {
            Compartment => PartField.Start,
            Flow => PartField.Rate,
            _ => PartField.Text,
        };

    /// <summary>The part and the indices that an id of a member stands for; null where it is none.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="id">Id of a member of a split part.</param>
    public static (IPart Part, string Member)? Find(StudyDocument document, string id)
    {
        if (document.Groups.IsEmpty || id.IndexOf('.', StringComparison.Ordinal) is not (> 0 and var cut))
            return null;
        if (document.Part(id[..cut]) is not { } part)
            return null;
        var members = id[(cut + 1)..].Split('.');
        var groups = WrittenOut.Of(document).Member(id) is { } known && known.BaseId == part.Id ? known.Members : [];
        return groups.SequenceEqual(members) ? (part, string.Join(',', members)) : null;
    }

    /// <summary>The document with another line for one member.</summary>
    /// <param name="document">The study.</param>
    /// <param name="part">A split part.</param>
    /// <param name="member">Its indices, as in <see cref="MemberLine.Member"/>.</param>
    /// <param name="text">Empty for what is said for all.</param>
    public static EditResult Set(StudyDocument document, IPart part, string member, string text)
    {
        var split = document.SplitOf(part.Id);
        if (split is null && part is not Flow)
            return EditResult.Refused($"{part.Name} is not split, so it has no members.");
        // Of a flow whose ends are split, members have rates of their own from the first that is told.
        split ??= new(part.Id, []);
        var next = split.With(member, text);
        var splits = document.Splits.RemoveAll(one => one.PartId == part.Id);
        return document with { Splits = next.Groups.IsEmpty && next.Lines.IsEmpty ? splits : splits.Add(next) };
    }
}
