using System.Collections.Immutable;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>
/// Splits parts by a group, so that together the members do what the part did: amounts are shared out, and where a flow's formula names
/// other split
/// parts it goes on to mean all of them.
/// </summary>
/// <param name="GroupId">Id of the group.</param>
/// <param name="PartIds">Compartments, values and quantities.</param>
/// <param name="Shares">Of the members, in their order; empty for equal ones.</param>
public sealed record SplitParts(string GroupId, ImmutableArray<string> PartIds, ImmutableArray<double> Shares) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Groups.FirstOrDefault(group => group.Id == GroupId) is not { } group)
            return EditResult.Refused("This group is no longer in the study.");
        var (shares, problem) = SharesOf(group);
        if (shares is null)
            return EditResult.Refused(problem!);
        var parts = PartIds.Distinct().Select(document.Part).OfType<IPart>().ToList();
        if (parts.Count == 0)
            return EditResult.Refused("There is nothing to split: choose compartments or values first.");
        foreach (var part in parts)
        {
            if (part is not (Compartment or Definition))
                return EditResult.Refused(
                    $"{part.Name} is {PartKinds.Noun(part)}; compartments, values and quantities are split, and flows follow them."
                );
            var old = document.SplitOf(part.Id)?.Groups ?? [];
            if (old.Contains(GroupId) && part is Compartment)
                return EditResult.Refused($"{part.Name} is split by {group.Symbol} already. Leave it out.");
            if (GroupRefusals.TooMany(document, [.. old, GroupId]) is { } wrong)
                return EditResult.Refused(wrong);
        }
        var before = document;
        // Of a value or a rate each member has its own; only amounts come together.
        var split = parts.OfType<Compartment>().Select(part => part.Symbol).ToHashSet();
        var ids = parts.Select(part => part.Id).ToHashSet();
        document = InLines(document, ids);
        foreach (var part in parts)
            document = WithSplit(document, part, group, shares, ids);
        var made = PlatePlacing.MakeRoom(before, Flows(document, group, shares, split, ids));
        return WrittenSize.Refusal(made) is { } large ? EditResult.Refused(large) : made;
    }

    private (IReadOnlyList<double>? Shares, string? Problem) SharesOf(Group group)
    {
        if (Shares.IsDefaultOrEmpty)
            return ([.. group.Members.Select(_ => 1.0 / group.Members.Length)], null);
        if (Shares.Length != group.Members.Length)
            return (
                null,
                $"{group.Symbol} has {group.Members.Length} members, and {Shares.Length} shares are given. Give one for each, or none."
            );
        if (Shares.Any(share => !(share >= 0) || double.IsInfinity(share)) || !(Shares.Sum() > 0))
            return (null, "Shares are numbers from zero on, and at least one is above zero.");
        return ([.. Shares.Select(share => share / Shares.Sum())], null);
    }

    private static StudyDocument WithSplit(
        StudyDocument document,
        IPart part,
        Group group,
        IReadOnlyList<double> shares,
        HashSet<string> ids
    )
    {
        var old = document.SplitOf(part.Id);
        var made = new Split(part.Id, [.. old?.Groups ?? [], group.Id]);
        if (part is Compartment compartment)
        {
            var lines = ImmutableArray.CreateBuilder<MemberLine>();
            foreach (var (member, text) in Starts(document, compartment, old))
            {
                var start = StartLine.Read(text);
                if (start.TheRest)
                {
                    foreach (var (k, one) in group.Members.Index())
                        lines.Add(new(Joined(member, one.Symbol), RestOf(document, compartment, text, shares, k, member, one.Symbol, ids)));
                    continue;
                }
                if (start.AtEquilibrium)
                    continue;
                var amounts = SharedAmount.Of(text, shares, compartment.WholeUnits);
                if (amounts.Distinct().Count() == 1 && member.Length == 0 && amounts[0] == text)
                    continue;
                foreach (var (k, one) in group.Members.Index())
                    lines.Add(new(Joined(member, one.Symbol), amounts[k]));
            }
            made = made with { Lines = lines.ToImmutable() };
        }
        else if (old is not null)
        {
            // Of a value each new member has the line of the one it comes from.
            made = made with
            {
                Lines =
                [
                    .. old.Lines.SelectMany(line =>
                        group.Members.Select(one => new MemberLine(Joined(line.Member, one.Symbol), line.Text))
                    ),
                ],
            };
        }
        return document with { Splits = old is null ? document.Splits.Add(made) : document.Splits.Replace(old, made) };
    }

    private static string Inserted(string member, int place, string other)
    {
        List<string> members = [.. member.Split(',', StringSplitOptions.RemoveEmptyEntries)];
        members.Insert(place, other);
        return string.Join(',', members);
    }

    private static string Joined(string member, string other) => member.Length == 0 ? other : $"{member},{other}";

    /// <summary>The initial amounts there are before, by member.</summary>
    private static IEnumerable<(string Member, string Text)> Starts(StudyDocument document, Compartment part, Split? old)
    {
        if (old is null)
            return [("", part.Start)];
        return IndexTable
            .Combinations(document.GroupsOf(part.Id))
            .Select(members => string.Join(',', members))
            .Select(member => (member, old.LineOf(member) ?? part.Start));
    }

    /// <summary>What is left of a member's share of the total: only one compartment can take the rest, so the others are written
    /// down.</summary>
    private static string RestOf(
        StudyDocument document,
        Compartment part,
        string text,
        IReadOnlyList<double> shares,
        int place,
        string member,
        string one,
        HashSet<string> ids
    )
    {
        var total = text.TrimStart()["the rest of ".Length..];
        // Numbers stay numbers: what is left of the share once the others have theirs.
        var all = SharedAmount.Of(total, shares, part.WholeUnits);
        var taken = document
            .Compartments.Where(other => other.Id != part.Id)
            .Select(other => SharedAmount.Number(SharedAmount.Of(other.Start, shares, other.WholeUnits)[place]))
            .ToList();
        if (member.Length == 0 && SharedAmount.Number(all[place]) is { } whole && taken.All(one => one is not null))
            return SharedAmount.WithUnit(whole - taken.Sum()!.Value, total);
        var amount = all[place];
        var others = document
            .Compartments.Where(other => other.Id != part.Id && !IsNothing(other.Start))
            .Select(other =>
                ids.Contains(other.Id)
                    ? $" - {other.Symbol}[{Joined(member, one).Replace(",", ", ", StringComparison.Ordinal)}]"
                    : $" - {TypedNumber.Exact(shares[place])} * {other.Symbol}"
            );
        return amount + string.Concat(others);
    }

    private static bool IsNothing(string start) => Formula.Read(start).Tree is NumberSyntax { Value: 0 };

    /// <summary>Where a line of a part that is not split names a quantity that is and that adds up amounts, as N does, it means their sum;
    /// compartments mean it anyway.</summary>
    private static StudyDocument InLines(StudyDocument document, HashSet<string> ids)
    {
        var sums = document
            .Definitions.Where(part => ids.Contains(part.Id) && Formula.Read(part.Text).Tree is { } tree && AddsUp(document, tree, Deep))
            .Select(part => part.Symbol)
            .ToHashSet();
        if (sums.Count == 0)
            return document;
        var rewritten = LineNames.Rewrite(document, (form, text) => form == LineForm.Formula ? SharedRate.Totals(text, sums) : text);
        // What is split itself goes on to name its own members.
        return rewritten with
        {
            Definitions = [.. rewritten.Definitions.Select(part => ids.Contains(part.Id) ? (Definition)document.Part(part.Id)! : part)],
        };
    }

    /// <summary>Quantities that are sums of sums are looked through so far; a circle ends there too.</summary>
    private const int Deep = 8;

    /// <summary>Whether a formula does nothing but add amounts up, directly or through others that do.</summary>
    private static bool AddsUp(StudyDocument document, Syntax tree, int deep) =>
        tree switch
        {
            BinarySyntax { Operator: BinaryOperator.Add } sum => AddsUp(document, sum.Left, deep) && AddsUp(document, sum.Right, deep),
            NameSyntax name when document.CompartmentBySymbol(name.Base) is not null => true,
            NameSyntax name when deep > 0 && document.DefinitionBySymbol(name.Base) is { } other => Formula.Read(other.Text).Tree
                is { } inner
                && AddsUp(document, inner, deep - 1),
            _ => false,
        };

    private static StudyDocument Flows(
        StudyDocument document,
        Group group,
        IReadOnlyList<double> shares,
        HashSet<string> split,
        HashSet<string> ids
    )
    {
        foreach (var flow in document.Flows)
        {
            var leaves = flow.From is not null && ids.Contains(flow.From);
            if (!leaves && !flow.To.Any(target => target.Id is not null && ids.Contains(target.Id)))
                continue;
            var own = leaves ? document.Compartment(flow.From)!.Symbol : "";
            var made = flow with
            {
                Rate =
                    leaves && flow.Kind == RateKind.Whole
                        ? SharedRate.InProportion(flow.Rate, own, split)
                        : SharedRate.Totals(flow.Rate, split),
                To = [.. flow.To.Select(target => target with { Share = SharedRate.Totals(target.Share, split) })],
            };
            document = document.With(made);
            if (leaves)
                continue;
            // From one that is not split each member gets its share. Members of a flow are told in the order of the study's groups.
            var old = document.SplitOf(flow.Id);
            ImmutableArray<string> groups =
            [
                .. document.Groups.Select(one => one.Id).Where(id => id == group.Id || (old is not null && old.Groups.Contains(id))),
            ];
            var place = groups.IndexOf(group.Id);
            var lines = (old?.Lines ?? [new("", made.Rate)]).SelectMany(line =>
                group.Members.Select(
                    (one, k) => new MemberLine(Inserted(line.Member, place, one.Symbol), SharedRate.Of(flow.Kind, line.Text, shares[k]))
                )
            );
            var next = new Split(flow.Id, groups) { Lines = [.. lines] };
            document = document with { Splits = old is null ? document.Splits.Add(next) : document.Splits.Replace(old, next) };
        }
        return document;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before)
    {
        var names = PartIds.Select(before.Part).OfType<IPart>().Select(part => part.Name).ToList();
        var group = before.Groups.FirstOrDefault(one => one.Id == GroupId)?.Symbol ?? "a group";
        return $"split {(names.Count <= 6 ? string.Join(", ", names) : $"{names.Count} parts")} by {group}";
    }
}
