using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Groups;

/// <summary>
/// Writes a formula out for one member: indices become members, sums over groups become their terms, and an index that is missing is the
/// part's
/// own. What stands outside all groups and names a split compartment means its total.
/// </summary>
internal sealed class IndexedFormula(IndexTable table)
{
    /// <summary>The word for the sum over all members.</summary>
    public const string Total = "total";

    /// <summary>The tree with nothing of groups left in it; the same one where there was nothing.</summary>
    /// <exception cref="IndexException">An index names nothing, or is missing where it could be any.</exception>
    public Syntax Write(Syntax tree, Coordinates at) =>
        tree switch
        {
            NameSyntax name => Name(name, at),
            SumSyntax sum => Sum(sum, at),
            UserCallSyntax { Callee.Name: Total } call => TotalOf(call, at),
            UnarySyntax unary => Write(unary.Operand, at) is var operand && ReferenceEquals(operand, unary.Operand)
                ? unary
                : unary with
                {
                    Operand = operand,
                },
            BinarySyntax binary => Binary(binary, at),
            CallSyntax call => Arguments(call.Arguments, at) is { } arguments ? call with { Arguments = arguments } : call,
            UserCallSyntax call => Arguments(call.Arguments, at) is { } arguments ? call with { Arguments = arguments } : call,
            PerSyntax per => Write(per.Inner, at) is var inner && ReferenceEquals(inner, per.Inner) ? per : per with { Inner = inner },
            _ => tree,
        };

    private BinarySyntax Binary(BinarySyntax binary, Coordinates at)
    {
        var (left, right) = (Write(binary.Left, at), Write(binary.Right, at));
        return ReferenceEquals(left, binary.Left) && ReferenceEquals(right, binary.Right)
            ? binary
            : binary with
            {
                Left = left,
                Right = right,
            };
    }

    private List<Syntax>? Arguments(IReadOnlyList<Syntax> arguments, Coordinates at)
    {
        List<Syntax> written = [.. arguments.Select(argument => Write(argument, at))];
        return written.Where((argument, k) => !ReferenceEquals(argument, arguments[k])).Any() ? written : null;
    }

    private Syntax Name(NameSyntax name, Coordinates at)
    {
        if (table.OfSymbol(name.Base) is not { } groups)
        {
            return name.Indices.Count == 0
                ? name
                : throw new IndexException(
                    name.Span,
                    $"{name.Base} is not split, so it has no members. Split it by a group, or leave the brackets out.",
                    ($"Write {name.Base}", name.Base)
                );
        }
        if (name.Indices.Count == 0 && at.IsShared(name.Name))
            return name;
        var given = Place(name, groups, at);
        var members = new string[groups.Length];
        for (var k = 0; k < groups.Length; k++)
        {
            if ((given[k] ?? Own(groups, k, at)) is { } member)
            {
                members[k] = member;
                continue;
            }
            // Outside the group a compartment is all of it.
            if (table.IsAmount(name.Base))
                return name.Indices.Count == 0 && groups.All(group => at.OwnOf(group) is null) ? name : Rest(name, groups, given, at);
            throw new IndexException(
                name.Span,
                $"{name.Base} is split by {groups[k].Symbol}, and this line is not: say which, as in "
                    + $"{Example(name.Base, groups)}, or take the sum, {Total}({name.Base}).",
                (Example(name.Base, groups), Example(name.Base, groups)),
                ($"{Total}({name.Base})", $"{Total}({name.Base})")
            );
        }
        return new NameSyntax(name.Span, MemberName.Of(name.Base, members));
    }

    /// <summary>The part's own member of a group, once for each time that the group is among the indices.</summary>
    private static string? Own(ImmutableArray<Group> groups, int place, Coordinates at)
    {
        var again = groups.Take(place).Any(group => group.Id == groups[place].Id);
        if (!again)
            return at.OwnOf(groups[place]);
        return at.Find(Passage.To) is { } other && other.Group.Id == groups[place].Id ? other.Member : null;
    }

    private static string Example(string symbol, ImmutableArray<Group> groups) =>
        MemberName.Print(MemberName.Of(symbol, groups.Select(group => group.Members[0].Symbol)));

    /// <summary>The indices as typed, each at the group that it belongs to; null where one is missing.</summary>
    private static string?[] Place(NameSyntax name, ImmutableArray<Group> groups, Coordinates at)
    {
        var indices = name.Indices;
        if (indices.Count > groups.Length)
            throw new IndexException(
                name.Span,
                $"{name.Base} is split by {string.Join(" and ", groups.Select(group => group.Symbol))}: it takes "
                    + $"{(groups.Length == 1 ? "one index" : $"{groups.Length} indices")}, as in {Example(name.Base, groups)}."
            );
        var placed = new string?[groups.Length];
        for (var k = 0; k < indices.Count; k++)
        {
            var (index, found) = (indices[k], at.Find(indices[k]));
            var place = -1;
            // All that are given stand in their order; fewer find their groups by what they are.
            for (var g = indices.Count == groups.Length ? k : 0; g < (indices.Count == groups.Length ? k + 1 : groups.Length); g++)
            {
                if (placed[g] is null && (found is { } bound ? bound.Group.Id == groups[g].Id : groups[g].IndexOf(index) >= 0))
                {
                    place = g;
                    break;
                }
            }
            if (place < 0)
                throw Unknown(name, groups, index, indices.Count == groups.Length ? k : -1);
            placed[place] = found?.Member ?? index;
        }
        return placed;
    }

    private static IndexException Unknown(NameSyntax name, ImmutableArray<Group> groups, string index, int place)
    {
        var wanted = place >= 0 ? [groups[place]] : groups;
        var members = wanted.SelectMany(group => group.Members).Select(member => member.Symbol).ToList();
        var near = Symbols.Nearest(index, members);
        var listed = string.Join(", ", members.Take(8)) + (members.Count > 8 ? ", …" : "");
        return new IndexException(
            name.Span,
            $"“{index}” is no member of {string.Join(" or ", wanted.Select(group => group.Symbol).Distinct())}"
                + $" ({listed})."
                + (near is null ? " Write one of them." : $" Did you mean {near}?"),
            near is null
                ? []
                : [($"Use {near}", MemberName.Print(MemberName.Of(name.Base, name.Indices.Select(one => one == index ? near : one))))]
        );
    }

    /// <summary>The sum over all members that an index leaves open.</summary>
    private static Syntax Rest(NameSyntax name, ImmutableArray<Group> groups, string?[] given, Coordinates at)
    {
        var open = new List<int>();
        for (var k = 0; k < groups.Length; k++)
        {
            given[k] ??= Own(groups, k, at);
            if (given[k] is null)
                open.Add(k);
        }
        return Added(
            name.Span,
            IndexTable
                .Combinations([.. open.Select(k => groups[k])])
                .Select(chosen =>
                {
                    var members = given.ToArray();
                    for (var k = 0; k < open.Count; k++)
                        members[open[k]] = chosen[k];
                    return (Syntax)new NameSyntax(name.Span, MemberName.Of(name.Base, members!));
                })
        );
    }

    private Syntax TotalOf(UserCallSyntax call, Coordinates at)
    {
        if (call.Arguments is not [NameSyntax name])
            throw new IndexException(
                call.Span,
                $"{Total} takes the name of one part, as in {Total}(I). A formula is summed with sum(j in age, ...)."
            );
        if (table.OfSymbol(name.Base) is not { } groups)
            return name.Indices.Count == 0 ? name with { Span = call.Span } : Name(name, at);
        var given = Place(name, groups, at);
        if (given.All(index => index is null) && table.IsAmount(name.Base))
            return new NameSyntax(call.Span, name.Base);
        return Rest(name with { Span = call.Span }, groups, given, Coordinates.None);
    }

    private Syntax Sum(SumSyntax sum, Coordinates at)
    {
        if (table.Study.GroupBySymbol(sum.Group.Name) is not { } group)
        {
            var near = Symbols.Nearest(sum.Group.Name, table.Study.Groups.Select(known => known.Symbol));
            throw new IndexException(
                sum.Group.Span,
                $"There is no group {sum.Group.Name}."
                    + (near is null ? " Add one, as in “group age = child, adult, old”." : $" Did you mean {near}?"),
                near is null ? [] : [($"Use {near}", near)]
            );
        }
        foreach (var _ in group.Members)
        {
            if (!table.Count())
                throw new IndexException(
                    sum.Span,
                    $"The sums over members come to more than {WrittenSize.MostTerms:N0} terms. "
                        + "Give what is summed twice a name of its own."
                );
        }
        return Added(sum.Span, group.Members.Select(member => Write(sum.Term, at.With(sum.Variable.Name, group, member.Symbol))));
    }

    private static Syntax Added(TextSpan span, IEnumerable<Syntax> terms) =>
        terms.Aggregate((sum, term) => new BinarySyntax(span, BinaryOperator.Add, sum, term));
}
