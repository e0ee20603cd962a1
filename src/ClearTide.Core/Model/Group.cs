using System.Collections.Immutable;

namespace ClearTide.Core.Model;

/// <summary>One of those that a group tells apart: an age class, a place, a strain.</summary>
/// <param name="Symbol">What stands in brackets behind a symbol: <c>S[child]</c>.</param>
/// <param name="Label">What people call it.</param>
public sealed record GroupMember(string Symbol, string Label = "") : Stored
{
    /// <summary>What people call it.</summary>
    public string Name => Label.Length > 0 ? Label : Symbol;
}

/// <summary>How amounts pass between the members of a group.</summary>
public enum PassageKind
{
    /// <summary>From each member to the next in the order of the group, as ageing does.</summary>
    Along,

    /// <summary>From every member to every other, as travel does; the rate names the other as <c>to</c>.</summary>
    Among,
}

/// <summary>Flows between the members of a group, the same for each compartment that is split by it.</summary>
/// <param name="Id">Stays with it for good.</param>
/// <param name="Kind">Along the order of the members, or among all.</param>
/// <param name="RateKind">How the rate is given.</param>
/// <param name="Rate">The rate's line, which may use the group's own symbol as the member that is left.</param>
public sealed record Passage(string Id, PassageKind Kind, RateKind RateKind, string Rate) : Stored
{
    /// <summary>Ids of split compartments that take no part.</summary>
    public ImmutableArray<string> Without { get; init; } = [];

    /// <summary>The word for the member that is entered.</summary>
    public const string To = "to";
}

/// <summary>A group splits parts of the model: each has one amount, value or flow for every member.</summary>
/// <param name="Id">Names it within its study, never changed.</param>
/// <param name="Symbol">The name in formulas.</param>
/// <param name="Label">The name that people read.</param>
/// <param name="Members">In order, two at least.</param>
/// <param name="Note">What somebody wrote beside it.</param>
public sealed record Group(string Id, string Symbol, string Label, ImmutableArray<GroupMember> Members, string Note = "") : Stored, IPart
{
    /// <summary>A group tells at least two apart.</summary>
    public const int FewestMembers = 2;

    /// <summary>Members of a group at most.</summary>
    public const int MostMembers = 200;

    /// <summary>Members of one part at most, over all groups it is split by.</summary>
    public const int MostTogether = 40_000;

    /// <summary>Groups that one part is split by at most.</summary>
    public const int MostGroups = 4;

    /// <inheritdoc/>
    public string Name => Symbol;

    /// <summary>Flows between its members.</summary>
    public ImmutableArray<Passage> Passages { get; init; } = [];

    /// <summary>Where a member stands, from 0; -1 for none of this group.</summary>
    /// <param name="member">The symbol of the member.</param>
    public int IndexOf(string member)
    {
        for (var k = 0; k < Members.Length; k++)
        {
            if (Members[k].Symbol == member)
                return k;
        }
        return -1;
    }
}

/// <summary>The line that one member of a split part has instead of that of all.</summary>
/// <param name="Member">Its indices: <c>child</c>, or <c>child,old</c>.</param>
/// <param name="Text">The line as typed.</param>
public sealed record MemberLine(string Member, string Text);

/// <summary>A part that is split, by which groups, and where members differ from what the part says for all.</summary>
/// <param name="PartId">The compartment, value or quantity; or a flow whose members have rates of their own.</param>
/// <param name="Groups">Ids of the groups, in the order of the indices; the same one twice for a matrix.</param>
public sealed record Split(string PartId, ImmutableArray<string> Groups) : Stored
{
    /// <summary>Lines of members in the place of the part's own: the initial amount, the value or the rate.</summary>
    public ImmutableArray<MemberLine> Lines { get; init; } = [];

    /// <summary>The line of one member, or null where it has that of all.</summary>
    /// <param name="member">The symbol of the member.</param>
    public string? LineOf(string member)
    {
        foreach (var line in Lines)
        {
            if (line.Member == member)
                return line.Text;
        }
        return null;
    }

    /// <summary>The split with a line for one member, or with that of all where the text is empty.</summary>
    /// <param name="member">The symbol of the member.</param>
    /// <param name="text">The line of this member; empty for that of all.</param>
    public Split With(string member, string text)
    {
        var without = Lines.RemoveAll(line => line.Member == member);
        return this with { Lines = text.Length == 0 ? without : without.Add(new(member, text)) };
    }
}
