using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Web.Words;

namespace ClearTide.Web.Ledger;

/// <summary>One member of a split part under its line in the ledger.</summary>
/// <param name="Value">A value that does not change along the run, in words; null where the cursor gives it.</param>
/// <param name="IsOwn">Whether it has a line of its own, and not that of all.</param>
public sealed record LedgerMember(string Id, string Name, string? Value, bool IsOwn)
{
    /// <summary>A line of the ledger shows no more of them; the form has them all.</summary>
    public const int Most = 6;

    public static IReadOnlyList<LedgerMember> Of(LoweredModel lowered, IPart part)
    {
        var members = lowered.Written.Members(part.Id);
        if (members.Count is 0 or > Most || part is Group)
            return [];
        var (groups, split) = (lowered.Study.GroupsOf(part.Id), lowered.Study.SplitOf(part.Id));
        // A value that is one number for all needs no more than that number.
        if (part is Definition definition && !Formula.Read(definition.Text).HasNames && split!.Lines.IsEmpty)
            return [];
        return
        [
            .. members.Select(member => new LedgerMember(
                member.Id,
                NameOf(groups, member.Members),
                part is Definition && lowered.Network.IndexOf(ValueOf(lowered, part, member.Id)) is >= 0 and var index
                    ? Numbers.Say(lowered.Network.Values[index].Value)
                    : null,
                split?.LineOf(member.Key) is not null
            )),
        ];
    }

    /// <summary>The value that a member has: its own, or that of all.</summary>
    private static ValueAddress ValueOf(LoweredModel lowered, IPart part, string memberId) =>
        lowered.Document.Part(memberId) is Definition own && Formula.Read(own.Text).HasNames && own.Text == ((Definition)part).Symbol
            ? new(((Definition)part).Symbol)
            : new((lowered.Document.Part(memberId) as ISymbolPart)?.Symbol ?? "");

    /// <summary>Its labels, or its symbols where the groups are those of a flow.</summary>
    public static string NameOf(IReadOnlyList<Group> groups, IReadOnlyList<string> members) =>
        string.Join(
            ", ",
            members.Select((one, k) => k < groups.Count && groups[k].IndexOf(one) is >= 0 and var at ? groups[k].Members[at].Name : one)
        );
}
