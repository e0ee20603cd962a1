using ClearTide.Core.Model;

namespace ClearTide.Core.Groups;

/// <summary>Which member each index variable stands for while a formula is written out: a group's own symbol for the member that the
/// part is,
/// the variable of a sum for the one that is summed.</summary>
internal sealed class Coordinates
{
    /// <summary>Where nothing is split.</summary>
    public static readonly Coordinates None = new(null, "", null, "");

    private readonly Coordinates? _outer;
    private readonly string _variable;
    private readonly Group? _group;
    private readonly string _member;

    private Coordinates(Coordinates? outer, string variable, Group? group, string member) =>
        (_outer, _variable, _group, _member) = (outer, variable, group, member);

    /// <summary>These with one more variable, which hides an outer one of its name.</summary>
    public Coordinates With(string variable, Group group, string member) => new(this, variable, group, member);

    /// <summary>These in the line that one member has of its own: the bare symbol of its part is there the value of all others.</summary>
    public Coordinates Beside(string symbol) => new(this, symbol, null, "");

    /// <summary>Whether a bare symbol means the value that members share.</summary>
    public bool IsShared(string symbol)
    {
        for (var here = this; here is not null; here = here._outer)
        {
            if (here._group is null && here._variable.Length > 0 && here._variable == symbol)
                return true;
        }
        return false;
    }

    /// <summary>What a variable stands for, or null.</summary>
    public (Group Group, string Member)? Find(string variable)
    {
        for (var here = this; here is not null; here = here._outer)
        {
            if (here._group is not null && here._variable == variable)
                return (here._group, here._member);
        }
        return null;
    }

    /// <summary>The member of a group that the part itself is, or null.</summary>
    public string? OwnOf(Group group) => Find(group.Symbol) is { } own && own.Group.Id == group.Id ? own.Member : null;
}
