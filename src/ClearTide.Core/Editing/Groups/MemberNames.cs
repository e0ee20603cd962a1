using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Puts one member in the place of another wherever a study names it.</summary>
internal static class MemberNames
{
    public static StudyDocument Change(StudyDocument document, Group group, Func<string, string> change)
    {
        var split = document
            .Splits.Where(one => one.Groups.Contains(group.Id))
            .ToDictionary(one => one.PartId, one => one.Groups.Select(id => id == group.Id).ToList());
        var symbols = new Dictionary<string, List<bool>>();
        foreach (var (id, places) in split)
        {
            if (document.Part(id) is ISymbolPart part)
                symbols[part.Symbol] = places;
        }
        string InName(string name)
        {
            var indices = MemberName.IndicesOf(name);
            if (indices.Count == 0 || !symbols.TryGetValue(MemberName.BaseOf(name), out var places))
                return name;
            // Fewer indices than groups find their groups by what they are.
            return MemberName.Of(
                MemberName.BaseOf(name),
                indices.Select((index, k) => indices.Count < places.Count || places[k] ? change(index) : index)
            );
        }
        string InKey(string key, List<bool> places) =>
            string.Join(',', key.Split(',').Select((one, k) => k < places.Count && places[k] ? change(one) : one));
        string InEnd(string? partId, string member) =>
            partId is not null && split.ContainsKey(partId) && member.Length > 0
                ? string.Join(',', member.Split(',').Select(change))
                : member;
        document = LineNames.Rewrite(document, name => InName(name.Name) is var made && made != name.Name ? MemberName.Print(made) : null);
        document = document.WithAddresses(address => address with { Symbol = InName(address.Symbol), End = InName(address.End) });
        return document with
        {
            Splits =
            [
                .. document.Splits.Select(one =>
                    split.TryGetValue(one.PartId, out var places)
                        ? one with
                        {
                            Lines =
                            [
                                .. one
                                    .Lines.Select(line => line with { Member = InKey(line.Member, places) })
                                    .DistinctBy(line => line.Member),
                            ],
                        }
                        : one
                ),
            ],
            Flows =
            [
                .. document.Flows.Select(flow =>
                    flow with
                    {
                        FromMember = InEnd(flow.From, flow.FromMember),
                        To = [.. flow.To.Select(target => target with { Member = InEnd(target.Id, target.Member) })],
                    }
                ),
            ],
        };
    }
}
