using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Groups;

/// <summary>Flows of split compartments, and those between their members.</summary>
internal sealed partial class MemberWriter
{
    /// <summary>The groups over which a flow runs member by member: those of its ends that no end says a member of.</summary>
    private ImmutableArray<Group> GroupsOf(Flow flow) =>
        [
            .. Open(flow.From, flow.FromMember)
                .Concat(flow.To.SelectMany(target => Open(target.Id, target.Member)))
                .DistinctBy(group => group.Id)
                .OrderBy(group => study.Groups.IndexOf(group)),
        ];

    private ImmutableArray<Group> Open(string? partId, string member)
    {
        var groups = _table.OfPart(partId);
        if (member.Length == 0)
            return groups;
        var said = member.Split(',');
        return [.. groups.Where(group => !said.Any(one => group.IndexOf(one) >= 0))];
    }

    private IEnumerable<Flow> Flow(Flow flow)
    {
        var groups = GroupsOf(flow);
        var split = study.SplitOf(flow.Id);
        if (groups.IsEmpty)
        {
            yield return With(flow, flow.Id, Coordinates.None, flow.Rate);
            yield break;
        }
        foreach (var members in IndexTable.Combinations(groups))
        {
            var member = Member(flow.Id, members);
            var at = IndexTable.At(groups, members);
            yield return With(flow, member.Id, at, split?.LineOf(member.Key) ?? flow.Rate) with
            {
                Label = flow.Label.Length == 0 ? "" : Label(flow.Label, groups, members),
            };
        }
    }

    private Flow With(Flow flow, string id, Coordinates at, string rate) =>
        flow with
        {
            Id = id,
            From = End(flow.Id, flow.From, flow.FromMember, at),
            FromMember = "",
            To =
            [
                .. flow.To.Select(
                    (target, k) =>
                        target with
                        {
                            Id = End(flow.Id, target.Id, target.Member, at),
                            Member = "",
                            Share = Formula(id, PartField.Share, target.Share, at, k),
                        }
                ),
            ],
            Rate = Formula(id, PartField.Rate, rate, at),
        };

    /// <summary>The compartment of one member at an end of a flow.</summary>
    private string? End(string flowId, string? partId, string said, Coordinates at)
    {
        var groups = _table.OfPart(partId);
        if (partId is null)
            return null;
        var given = said.Length == 0 ? [] : said.Split(',');
        if (groups.IsEmpty || given.FirstOrDefault(one => !groups.Any(group => group.IndexOf(one) >= 0)) is not null)
        {
            if (given.Length == 0)
                return partId;
            var symbol = study.Compartment(partId)?.Symbol ?? "";
            _problems.Add(
                new(
                    flowId,
                    PartField.Rate,
                    0,
                    "",
                    new(0, 0),
                    groups.IsEmpty
                        ? $"{symbol} is not split, so that this flow cannot end at {symbol}[{said}]."
                        : $"{symbol} has no member {said}: give this flow another end.",
                    []
                )
            );
            return null;
        }
        return WrittenOut.IdOf(
            partId,
            groups.Select(group => given.FirstOrDefault(one => group.IndexOf(one) >= 0) ?? at.OwnOf(group) ?? group.Members[0].Symbol)
        );
    }

    /// <summary>Flows between members, of each compartment that is split by their group.</summary>
    private IEnumerable<Flow> Passages()
    {
        foreach (var group in study.Groups)
        {
            foreach (var passage in group.Passages)
            {
                foreach (var part in study.Compartments.Where(part => !passage.Without.Contains(part.Id)))
                {
                    var groups = _table.OfPart(part.Id);
                    var place = groups.IndexOf(group);
                    if (place < 0)
                        continue;
                    foreach (var flow in Pass(group, passage, part, groups, place))
                        yield return flow;
                }
            }
        }
    }

    private IEnumerable<Flow> Pass(Group group, Passage passage, Compartment part, ImmutableArray<Group> groups, int place)
    {
        var number = 0;
        foreach (var members in IndexTable.Combinations(groups))
        {
            var here = group.IndexOf(members[place]);
            IEnumerable<int> others =
                passage.Kind == PassageKind.Along
                    ? (here + 1 < group.Members.Length ? [here + 1] : [])
                    : Enumerable.Range(0, group.Members.Length).Where(other => other != here);
            foreach (var other in others)
            {
                var to = members.SetItem(place, group.Members[other].Symbol);
                var at = IndexTable.At(groups, members).With(Passage.To, group, to[place]);
                var id = $"{passage.Id}.{part.Id}.{++number}";
                _out.Add(new(id, group.Id, members));
                var rate = Formula(id, PartField.Rate, passage.Rate, at);
                if (IsNothing(rate))
                    continue;
                yield return new Flow(
                    id,
                    "",
                    WrittenOut.IdOf(part.Id, members),
                    [new(WrittenOut.IdOf(part.Id, to))],
                    passage.RateKind,
                    rate
                );
            }
        }
    }

    /// <summary>Whether a rate is a plain zero, by itself or as the one entry of a matrix that it names.</summary>
    private bool IsNothing(string rate) =>
        Language.Formula.Read(rate).Tree switch
        {
            NumberSyntax { Value: 0 } => true,
            NameSyntax { Indices.Count: > 0 } name
                when study.DefinitionBySymbol(name.Base) is { } part && study.SplitOf(part.Id) is { } split => Language
                .Formula.Read(split.LineOf(string.Join(',', name.Indices)) ?? part.Text)
                .Tree
                is NumberSyntax { Value: 0 },
            _ => false,
        };
}
