using System.Collections.Immutable;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;

namespace ClearTide.Core.Conversion;

/// <summary>Groups that come with copied parts: the same group is there once, another of its name gets a name of its own.</summary>
internal static class GroupCopies
{
    /// <summary>The copies with groups that are not those of the study under names that are free in it.</summary>
    public static StudyDocument Named(StudyDocument document, StudyDocument copies)
    {
        foreach (var group in copies.Groups)
        {
            if (
                Same(document, group) is not null
                || (document.GroupBySymbol(group.Symbol) is null && document.PartBySymbol(group.Symbol) is null)
            )
                continue;
            var number = 2;
            while (
                document.GroupBySymbol(group.Symbol + number) is not null
                || document.PartBySymbol(group.Symbol + number) is not null
                || copies.PartBySymbol(group.Symbol + number) is not null
            )
                number++;
            copies = new SetField(group.Id, PartField.Symbol, group.Symbol + number).Apply(copies).Document ?? copies;
        }
        return copies;
    }

    private static Group? Same(StudyDocument document, Group group) =>
        document.GroupBySymbol(group.Symbol) is { } known
        && known.Members.Select(member => member.Symbol).SequenceEqual(group.Members.Select(member => member.Symbol))
            ? known
            : null;

    /// <summary>All groups and splits of the study with the copies in it.</summary>
    /// <param name="document">The study that the copies come into.</param>
    /// <param name="copies">The parts that are copied, with their groups.</param>
    /// <param name="ids">The ids of the copies by those of the originals.</param>
    /// <param name="next">The next free number for an id; moved on.</param>
    public static (ImmutableArray<Group> Groups, ImmutableArray<Split> Splits) Of(
        StudyDocument document,
        StudyDocument copies,
        IReadOnlyDictionary<string, string> ids,
        ref int next
    )
    {
        var (groups, known) = (document.Groups, new Dictionary<string, string>());
        foreach (var group in copies.Groups)
        {
            if (Same(document, group) is { } same)
            {
                known[group.Id] = same.Id;
                continue;
            }
            known[group.Id] = $"g{next++}";
            // What passes between members belongs to the study that it was made in.
            groups = groups.Add(group with { Id = known[group.Id], Passages = [] });
        }
        var splits = copies
            .Splits.Where(split => ids.ContainsKey(split.PartId) && split.Groups.All(known.ContainsKey))
            .Select(split => split with { PartId = ids[split.PartId], Groups = [.. split.Groups.Select(id => known[id])] });
        return (groups, [.. document.Splits, .. splits]);
    }
}
