using System.Collections.Immutable;
using ClearTide.Core.Model;

namespace ClearTide.Core.Groups;

/// <summary>Which symbols of a study are split, and by what: looked up for each name of each formula that is written out.</summary>
public sealed class IndexTable
{
    private readonly Dictionary<string, (ImmutableArray<Group> Groups, bool IsAmount)> _split = [];
    private readonly Dictionary<string, ImmutableArray<Group>> _byPart = [];

    /// <summary>Gathers them once for a study.</summary>
    /// <param name="study">The study as it is edited, not written out.</param>
    public IndexTable(StudyDocument study)
    {
        Study = study;
        foreach (var split in study.Splits)
        {
            var groups = study.GroupsOf(split.PartId);
            if (groups.IsEmpty || !_byPart.TryAdd(split.PartId, groups) || study.Part(split.PartId) is not ISymbolPart part)
                continue;
            _split.TryAdd(part.Symbol, (groups, part is Compartment));
        }
    }

    private int _terms;

    /// <summary>Counts the terms that sums are written out into; false where they are more than can be computed.</summary>
    internal bool Count() => ++_terms <= WrittenSize.MostTerms;

    /// <summary>The study that it is of.</summary>
    public StudyDocument Study { get; }

    /// <summary>The groups of a part by its id; empty where it is not split.</summary>
    internal ImmutableArray<Group> OfPart(string? partId) =>
        partId is not null && _byPart.TryGetValue(partId, out var groups) ? groups : [];

    /// <summary>The groups of a symbol; null where it is not split.</summary>
    internal ImmutableArray<Group>? OfSymbol(string symbol) => _split.TryGetValue(symbol, out var found) ? found.Groups : null;

    /// <summary>Whether the symbol is of a compartment, so that its members come to a total.</summary>
    /// <param name="symbol">The name in formulas.</param>
    public bool IsAmount(string symbol) => _split.TryGetValue(symbol, out var found) && found.IsAmount;

    /// <summary>All combinations of members, the last group fastest.</summary>
    /// <param name="groups">The groups, none for one empty combination.</param>
    public static IEnumerable<ImmutableArray<string>> Combinations(ImmutableArray<Group> groups)
    {
        var at = new int[groups.Length];
        while (true)
        {
            yield return [.. groups.Select((group, k) => group.Members[at[k]].Symbol)];
            var place = groups.Length - 1;
            while (place >= 0 && ++at[place] == groups[place].Members.Length)
                at[place--] = 0;
            if (place < 0)
                yield break;
        }
    }

    /// <summary>The coordinates of one member: each group's own symbol, and <c>to</c> where the same group comes a second time.</summary>
    internal static Coordinates At(ImmutableArray<Group> groups, ImmutableArray<string> members)
    {
        var at = Coordinates.None;
        for (var k = 0; k < groups.Length; k++)
        {
            var again = groups.Take(k).Any(group => group.Id == groups[k].Id);
            at = at.With(again ? Passage.To : groups[k].Symbol, groups[k], members[k]);
        }
        return at;
    }
}
