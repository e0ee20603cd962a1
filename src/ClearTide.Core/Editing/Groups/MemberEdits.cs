using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Gives a member another name, in brackets everywhere and as a label.</summary>
/// <param name="GroupId">Id of the group.</param>
/// <param name="Member">The symbol of the member.</param>
/// <param name="Symbol">The new name in brackets.</param>
/// <param name="Label">The new name that people read.</param>
public sealed record RenameMember(string GroupId, string Member, string Symbol, string Label) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Groups.FirstOrDefault(group => group.Id == GroupId) is not { } group || group.IndexOf(Member) is not (>= 0 and var at))
            return EditResult.Refused("This member is no longer in the study.");
        var symbol = Symbols.Normalize(Symbol.Trim());
        var made = group.Members[at] with { Symbol = symbol, Label = Label.Trim() };
        if (GroupRefusals.Member(group.Symbol, made) is { } wrong)
            return EditResult.Refused(wrong);
        if (symbol != Member && group.IndexOf(symbol) >= 0)
            return EditResult.Refused($"{group.Symbol} has a member {symbol} already. Choose another name.");
        if (symbol != Member)
            document = MemberNames.Change(document, group, one => one == Member ? symbol : one);
        group = document.Groups.First(one => one.Id == GroupId);
        return document.With(group with { Members = group.Members.SetItem(at, made) });
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        Member == Symbol.Trim() ? $"{Member}: {Label.Trim()}" : $"{Member} → {Symbol.Trim()}";
}

/// <summary>Moves a member to another place in the order of its group, which is the order in which it is passed along.</summary>
/// <param name="GroupId">Id of the group.</param>
/// <param name="Member">Symbol of the member that is moved.</param>
/// <param name="By">Places down, or up if negative.</param>
public sealed record MoveMember(string GroupId, string Member, int By) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Groups.FirstOrDefault(group => group.Id == GroupId) is not { } group || group.IndexOf(Member) is not (>= 0 and var at))
            return EditResult.Refused("This member is no longer in the study.");
        var to = Math.Clamp(at + By, 0, group.Members.Length - 1);
        return document.With(group with { Members = group.Members.RemoveAt(at).Insert(to, group.Members[at]) });
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"{Member}: moved {(By < 0 ? "up" : "down")}";
}

/// <summary>Takes a member out of its group: what it held goes to another. Of values those of the other stay.</summary>
/// <param name="GroupId">Id of the group.</param>
/// <param name="Member">The symbol of the member.</param>
/// <param name="Into">The symbol of the member that it goes to.</param>
public sealed record MergeMember(string GroupId, string Member, string Into) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Groups.FirstOrDefault(group => group.Id == GroupId) is not { } group || group.IndexOf(Member) < 0)
            return EditResult.Refused("This member is no longer in the study.");
        if (Member == Into || group.IndexOf(Into) < 0)
            return EditResult.Refused($"Into which other member of {group.Symbol} does {Member} go? Choose one.");
        if (group.Members.Length <= Group.FewestMembers)
            return EditResult.Refused(
                $"{group.Symbol} would have one member left, which tells nothing apart. Remove the group instead, and amounts are added up."
            );
        foreach (var split in document.Splits.Where(split => split.Groups.Contains(GroupId)).ToList())
            document = document with { Splits = document.Splits.Replace(split, Merged(document, split)) };
        document = MemberNames.Change(document, group, one => one == Member ? Into : one);
        group = document.Groups.First(one => one.Id == GroupId);
        return document.With(group with { Members = group.Members.RemoveAll(one => one.Symbol == Member) });
    }

    private Split Merged(StudyDocument document, Split split)
    {
        var part = document.Part(split.PartId);
        var adds = part is Compartment or Flow;
        var all = part is null ? "" : PartKinds.Text(part, MemberLines.FieldOf(part)) ?? "";
        var places = split.Groups.Select((id, k) => (id, k)).Where(pair => pair.id == GroupId).Select(pair => pair.k).ToList();
        bool Has(string key) => places.Any(k => key.Split(',')[k] == Member);
        string Other(string key) => string.Join(',', key.Split(',').Select((one, k) => places.Contains(k) && one == Member ? Into : one));
        var next = split with { Lines = split.Lines.RemoveAll(line => Has(line.Member)) };
        if (!adds)
            return next;
        foreach (
            var members in Groups.IndexTable.Combinations([.. split.Groups.Select(id => document.Groups.First(group => group.Id == id))])
        )
        {
            var key = string.Join(',', members);
            if (!Has(key))
                continue;
            // A flow whose ends are split and that has the rate of all has it in what is left too.
            if (part is Flow && split.LineOf(key) is null && split.LineOf(Other(key)) is null)
                continue;
            // Where a line names what is merged too, the other's name stands for the sum of both from now on.
            var own = LineNames.Rewrite(split.LineOf(key) ?? all, LineForm.Formula, name => name.Indices.Contains(Member) ? "0" : null);
            next = next.With(Other(key), SharedAmount.Sum([next.LineOf(Other(key)) ?? all, own]));
        }
        return next;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"{Member} merged into {Into}";
}

/// <summary>Adds a member, which takes a share of what another one holds and its values.</summary>
/// <param name="GroupId">Id of the group.</param>
/// <param name="Symbol">Of the new member, within the group.</param>
/// <param name="Label">What people call it; may be empty.</param>
/// <param name="Of">The member that it is split off from.</param>
/// <param name="Share">The share of its amounts that goes to the new one, from 0 to 1.</param>
public sealed record AddMember(string GroupId, string Symbol, string Label, string Of, double Share) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Groups.FirstOrDefault(group => group.Id == GroupId) is not { } group)
            return EditResult.Refused("This group is no longer in the study.");
        var made = new GroupMember(Symbols.Normalize(Symbol.Trim()), Label.Trim());
        if (group.IndexOf(Of) is not (>= 0 and var at))
            return EditResult.Refused($"From which member of {group.Symbol} does it take its amounts? Choose one.");
        if (!(Share is >= 0 and <= 1))
            return EditResult.Refused("The share that the new member takes lies between 0 and 100%.");
        if (GroupRefusals.Of(document with { Groups = [] }, group.Symbol, group.Members.Insert(at + 1, made)) is { } wrong)
            return EditResult.Refused(wrong);
        foreach (var split in document.Splits.Where(split => split.Groups.Contains(GroupId)).ToList())
            document = document with { Splits = document.Splits.Replace(split, Grown(document, split, made.Symbol)) };
        group = document.Groups.First(one => one.Id == GroupId);
        var next = document.With(group with { Members = group.Members.Insert(at + 1, made) });
        foreach (var split in next.Splits.Where(split => split.Groups.Contains(GroupId)))
        {
            if (GroupRefusals.TooMany(next, split.Groups) is { } many)
                return EditResult.Refused(many);
        }
        return Groups.WrittenSize.Refusal(next) is { } large ? EditResult.Refused(large) : next;
    }

    private Split Grown(StudyDocument document, Split split, string added)
    {
        var part = document.Part(split.PartId);
        var shares = part is Compartment;
        var all = part is null ? "" : PartKinds.Text(part, MemberLines.FieldOf(part)) ?? "";
        var places = split.Groups.Select((id, k) => (id, k)).Where(pair => pair.id == GroupId).Select(pair => pair.k).ToList();
        foreach (
            var members in Groups
                .IndexTable.Combinations([.. split.Groups.Select(id => document.Groups.First(group => group.Id == id))])
                .ToList()
        )
        {
            var key = string.Join(',', members);
            var own = split.LineOf(key);
            foreach (var place in places.Where(k => members[k] == Of))
            {
                var other = string.Join(',', members.SetItem(place, added));
                if (
                    shares
                    && (own ?? all) is var amount
                    && amount.Length > 0
                    && !StartLine.Read(amount).TheRest
                    && !StartLine.Read(amount).AtEquilibrium
                )
                {
                    var parts = SharedAmount.Of(amount, [1 - Share, Share], ((Compartment)part!).WholeUnits);
                    split = split.With(key, parts[0]).With(other, parts[1]);
                }
                else if (own is not null)
                    split = split.With(other, own);
            }
            if (places.Count > 1 && places.TrueForAll(k => members[k] == Of) && own is not null)
                split = split.With(string.Join(',', members.Select(_ => added)), own);
        }
        return split;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"{Symbol.Trim()}: split off from {Of}";
}

/// <summary>Takes a group out of the study: what was split by it becomes one again.</summary>
/// <param name="GroupId">Id of the group.</param>
public sealed record RemoveGroup(string GroupId) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Groups.All(group => group.Id != GroupId))
            return EditResult.Refused("This group is no longer in the study.");
        if (document.Splits.Any(split => split.Groups.Contains(GroupId)))
            document = new UnsplitParts(GroupId, []).Apply(document).Document ?? document;
        return document with { Groups = document.Groups.RemoveAll(group => group.Id == GroupId) };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        $"removed the group {before.Groups.FirstOrDefault(group => group.Id == GroupId)?.Symbol}";
}
