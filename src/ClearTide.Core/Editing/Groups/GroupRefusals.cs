using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>What a group cannot be, in sentences that say what to do.</summary>
public static class GroupRefusals
{
    /// <summary>Null where a group may have these members.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="symbol">The name in formulas that the group would have.</param>
    /// <param name="members">The members that it would have.</param>
    public static string? Of(StudyDocument document, string symbol, ImmutableArray<GroupMember> members)
    {
        if (Symbols.Refusal(symbol) is { } wrong)
            return wrong;
        if (symbol == Passage.To)
            return $"“{Passage.To}” means the member that a flow enters; choose another symbol for the group.";
        if (members.Length < Group.FewestMembers)
            return $"A group tells at least two apart. Name two members or more, as in “child, adult, old”.";
        if (members.Length > Group.MostMembers)
            return $"A group has at most {Group.MostMembers} members; this one would have {members.Length:N0}.";
        foreach (var member in members)
        {
            if (Member(symbol, member) is { } refusal)
                return refusal;
        }
        if (members.GroupBy(member => member.Symbol).FirstOrDefault(twice => twice.Count() > 1) is { } twin)
            return $"{twin.Key} stands twice among the members of {symbol}. Give one of them another name.";
        if (document.PartBySymbol(symbol) is { } taken)
            return $"{symbol} is {PartKinds.Noun(taken)} already. Choose another symbol for the group.";
        return null;
    }

    /// <summary>Null where a group may have this member.</summary>
    /// <param name="group">The symbol of the group.</param>
    /// <param name="member">The member that it would have.</param>
    public static string? Member(string group, GroupMember member)
    {
        if (Symbols.Refusal(member.Symbol) is { } wrong)
            return wrong;
        if (member.Symbol == group || member.Symbol == Passage.To)
            return $"“{member.Symbol}” cannot be a member of {group}, since it stands for any of them in formulas. Choose another name.";
        return member.Label.Length > SetField.LongestLabel ? $"A label has at most {SetField.LongestLabel} characters." : null;
    }

    /// <summary>Null where a part may be split by these groups at once.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="groupIds">Ids of all the groups that the part would be split by.</param>
    public static string? TooMany(StudyDocument document, ImmutableArray<string> groupIds)
    {
        if (groupIds.Length > Group.MostGroups)
            return $"A part is split by at most {Group.MostGroups} groups at once.";
        var count = groupIds.Aggregate(1L, (all, id) => all * document.Groups.First(group => group.Id == id).Members.Length);
        return count > Group.MostTogether
            ? $"That would make {count:N0} of one part; at most {Group.MostTogether:N0} are possible. Split by fewer groups, "
                + "or merge members."
            : null;
    }
}
