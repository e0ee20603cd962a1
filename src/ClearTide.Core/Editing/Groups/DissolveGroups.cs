using System.Collections.Immutable;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Takes all groups apart: each member becomes a part of its own, <c>S_child</c>, with a plate of its own. It computes the
/// same.</summary>
public sealed record DissolveGroups : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Groups.IsEmpty)
            return EditResult.Refused("This study has no groups.");
        var written = WrittenOut.Of(document);
        if (written.Problems.Count > 0)
            return EditResult.Refused($"Groups cannot be taken apart yet. {written.Problems[0].Message}");
        var plain = written.Document;
        if (plain.Parts.Count() > AddLines.MostParts)
            return EditResult.Refused($"That would make {plain.Parts.Count():N0} parts; a study holds at most {AddLines.MostParts:N0}.");
        if (
            plain
                .Definitions.Select(part => part.Text)
                .Concat(plain.Flows.Select(flow => flow.Rate))
                .Any(text => text.Length > 0 && Formula.Read(text).Tree is not null && Formula.Typed(text).Tree is null)
        )
            return EditResult.Refused("A sum over this many members is longer than a formula can be. Merge members first.");
        var taken = plain
            .SymbolParts.Select(part => part.Symbol)
            .Where(symbol => !symbol.Contains('[', StringComparison.Ordinal))
            .ToHashSet();
        var names = new Dictionary<string, string>();
        foreach (
            var symbol in plain.SymbolParts.Select(part => part.Symbol).Where(symbol => symbol.Contains('[', StringComparison.Ordinal))
        )
            names[symbol] = Free(symbol, taken);
        var renamed = LineNames
            .Rewrite(plain, name => names.GetValueOrDefault(name.Name))
            .WithAddresses(address =>
                address with
                {
                    Symbol = names.GetValueOrDefault(address.Symbol, address.Symbol),
                    End = names.GetValueOrDefault(address.End, address.End),
                }
            );
        var ids = new Dictionary<string, string>();
        string Id(string id) => ids.TryGetValue(id, out var known) ? known : id;
        var next = document.NextId;
        foreach (var part in renamed.Parts.Where(part => part.Id.Contains('.', StringComparison.Ordinal)))
            ids[part.Id] = $"{part.Id[0]}{next++}";
        return renamed with
        {
            NextId = next,
            Compartments =
            [
                .. renamed.Compartments.Select(part =>
                    part with
                    {
                        Id = Id(part.Id),
                        Symbol = names.GetValueOrDefault(part.Symbol, part.Symbol),
                        Y = part.Y + Down(document, written, part.Id),
                    }
                ),
            ],
            Definitions =
            [
                .. renamed.Definitions.Select(part =>
                    part with
                    {
                        Id = Id(part.Id),
                        Symbol = names.GetValueOrDefault(part.Symbol, part.Symbol),
                    }
                ),
            ],
            Flows =
            [
                .. renamed.Flows.Select(flow =>
                    flow with
                    {
                        Id = Id(flow.Id),
                        From = flow.From is null ? null : Id(flow.From),
                        To =
                        [
                            .. flow.To.Select(target =>
                                target.Id is null ? target : target with { Id = Id(target.Id), Bend = null, Caption = null }
                            ),
                        ],
                        Open = null,
                    }
                ),
            ],
            Observations =
            [
                .. renamed.Observations.Select(one => one with { FlowId = Id(one.FlowId), OtherFlows = [.. one.OtherFlows.Select(Id)] }),
            ],
        };
    }

    /// <summary>Members stand one below the other, each as far down as all plates of the one before reach.</summary>
    private static double Down(StudyDocument document, WrittenOut written, string id)
    {
        if (written.Member(id) is not { } member)
            return 0;
        var place = written.Members(member.BaseId).ToList().FindIndex(one => one.Id == id);
        var height = document.Compartments.Max(part => part.Y) - document.Compartments.Min(part => part.Y) + Gap;
        return place * height;
    }

    private const double Gap = 200;

    private static string Free(string symbol, HashSet<string> taken)
    {
        var wanted = string.Join('_', MemberName.IndicesOf(symbol).Prepend(MemberName.BaseOf(symbol)));
        if (wanted.Length > Symbols.Longest)
            wanted = wanted[..Symbols.Longest];
        var free = wanted;
        for (var twin = 2; !taken.Add(free); twin++)
            free = $"{wanted[..Math.Min(wanted.Length, Symbols.Longest - 4)]}_{twin}";
        return free;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => "groups taken apart";
}
