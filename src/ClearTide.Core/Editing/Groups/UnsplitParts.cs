using System.Collections.Immutable;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Makes one of the members again: amounts are added up, of a value the line for all stays.</summary>
/// <param name="GroupId">Id of the group.</param>
/// <param name="PartIds">What is no longer split by the group; empty for all that is.</param>
public sealed record UnsplitParts(string GroupId, ImmutableArray<string> PartIds) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Groups.FirstOrDefault(group => group.Id == GroupId) is not { } group)
            return EditResult.Refused("This group is no longer in the study.");
        var splits = document
            .Splits.Where(split => split.Groups.Contains(GroupId) && (PartIds.IsDefaultOrEmpty || PartIds.Contains(split.PartId)))
            .ToList();
        if (splits.Count == 0)
            return EditResult.Refused($"Nothing of this is split by {group.Symbol}.");
        var symbols = new Dictionary<string, ImmutableArray<Group>>();
        foreach (var split in splits)
        {
            if (document.Part(split.PartId) is ISymbolPart part)
                symbols[part.Symbol] = document.GroupsOf(part.Id);
        }
        // Formulas first, while it is known what their indices mean.
        document = LineNames.Rewrite(document, (form, text) => Without(text, form, group, symbols));
        foreach (var split in splits)
            document = Joined(document, split, group);
        var ids = splits.Select(split => split.PartId).ToHashSet();
        return document with
        {
            Flows =
            [
                .. document.Flows.Select(flow =>
                    flow with
                    {
                        FromMember = flow.From is not null && ids.Contains(flow.From) ? Other(flow.FromMember, group) : flow.FromMember,
                        To =
                        [
                            .. flow.To.Select(target =>
                                target.Id is not null && ids.Contains(target.Id)
                                    ? target with
                                    {
                                        Member = Other(target.Member, group),
                                    }
                                    : target
                            ),
                        ],
                    }
                ),
            ],
        };
    }

    private static string Other(string member, Group group) =>
        string.Join(',', member.Split(',', StringSplitOptions.RemoveEmptyEntries).Where(one => group.IndexOf(one) < 0));

    private static StudyDocument Joined(StudyDocument document, Split split, Group group)
    {
        var groups = split.Groups.Select(id => document.Groups.First(one => one.Id == id)).ToImmutableArray();
        var place = split.Groups.IndexOf(group.Id);
        var part = document.Part(split.PartId);
        var left = split with { Groups = split.Groups.RemoveAt(place), Lines = [] };
        string Text() => PartKinds.Text(part!, MemberLines.FieldOf(part!)) ?? "";
        foreach (var members in IndexTable.Combinations(groups).GroupBy(members => string.Join(',', members.RemoveAt(place))))
        {
            var lines = members.Select(one => split.LineOf(string.Join(',', one)) ?? Text()).ToList();
            if (part is null || members.All(one => split.LineOf(string.Join(',', one)) is null) && part is not Compartment)
                continue;
            // Amounts and flows add up; of a value the first member's line stays where members agree, else what is said for all.
            var line =
                part is Compartment or Flow ? SharedAmount.Sum(lines)
                : lines.Distinct().Count() == 1 ? lines[0]
                : Text();
            if (members.Key.Length > 0)
                left = left.With(members.Key, line);
            else
                document = document.With(PartKinds.Of(part).With(part, MemberLines.FieldOf(part), line));
        }
        return document with
        {
            Splits = left.Groups.IsEmpty
                ? document.Splits.RemoveAll(one => one.PartId == split.PartId)
                : document.Splits.Replace(document.SplitOf(split.PartId)!, left),
        };
    }

    private static string Without(string text, LineForm form, Group group, Dictionary<string, ImmutableArray<Group>> symbols)
    {
        if (LineNames.Trees(form, text) is not { } trees)
            return text;
        var changes = new List<(TextSpan Span, string With)>();
        foreach (var tree in trees)
            Gather(tree, [], changes, text, group, symbols);
        foreach (var (span, with) in changes.OrderByDescending(change => change.Span.Start))
            text = text[..span.Start] + with + text[span.End..];
        return text;
    }

    private static void Gather(
        Syntax node,
        ImmutableArray<string> variables,
        List<(TextSpan, string)> changes,
        string text,
        Group group,
        Dictionary<string, ImmutableArray<Group>> symbols
    )
    {
        switch (node)
        {
            case SumSyntax sum when sum.Group.Name == group.Symbol:
                var inner = new List<(TextSpan Span, string With)>();
                Gather(sum.Term, variables.Add(sum.Variable.Name), inner, text, group, symbols);
                var term = text[sum.Term.Span.Start..sum.Term.Span.End];
                foreach (var (span, with) in inner.OrderByDescending(change => change.Span.Start))
                    term = term[..(span.Start - sum.Term.Span.Start)] + with + term[(span.End - sum.Term.Span.Start)..];
                changes.Add((sum.Span, $"({term})"));
                return;
            case UserCallSyntax { Callee.Name: IndexedFormula.Total, Arguments: [NameSyntax whole] }
                when symbols.TryGetValue(whole.Base, out var of):
                changes.Add((node.Span, of.Length > 1 ? $"{IndexedFormula.Total}({Bare(whole, group, variables)})" : whole.Base));
                return;
            case NameSyntax { Indices.Count: > 0 } name when symbols.ContainsKey(name.Base):
                changes.Add((name.Span, Bare(name, group, variables)));
                return;
        }
        foreach (var child in node is UserCallSyntax call ? call.Arguments : node.Children)
            Gather(child, variables, changes, text, group, symbols);
    }

    private static string Bare(NameSyntax name, Group group, ImmutableArray<string> variables)
    {
        var left = name.Indices.Where(index => group.IndexOf(index) < 0 && index != group.Symbol && !variables.Contains(index)).ToList();
        return left.Count == 0 ? name.Base : MemberName.Print(MemberName.Of(name.Base, left));
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before)
    {
        var group = before.Groups.FirstOrDefault(one => one.Id == GroupId)?.Symbol ?? "a group";
        var names = PartIds.IsDefaultOrEmpty ? [] : PartIds.Select(before.Part).OfType<IPart>().Select(part => part.Name).ToList();
        return names.Count == 0 ? $"nothing split by {group}" : $"no longer split by {group}: {string.Join(", ", names)}";
    }
}
