using System.Net;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Formats.Print;

/// <summary>What groups add to the equations of a model: split symbols with their indices, and which members there are.</summary>
internal static class GroupEquations
{
    /// <summary>The document with the groups of each split symbol as its indices, in its own line and wherever a line of a split part names
    /// it without saying a member; for print only.</summary>
    public static StudyDocument Indexed(StudyDocument document)
    {
        if (document.Groups.IsEmpty)
            return document;
        var indexed = new Dictionary<string, string>();
        foreach (var part in document.SymbolParts)
        {
            if (document.GroupsOf(part.Id) is { IsEmpty: false } groups)
                indexed[part.Symbol] = MemberName.Of(part.Symbol, groups.Select(group => group.Symbol));
        }
        string InSplit(string text) => LineNames.Rewrite(text, LineForm.Formula, name => indexed.GetValueOrDefault(name.Name));
        bool IsSplit(string? id) => document.GroupsOf(id) is { IsEmpty: false };
        return document with
        {
            Compartments =
            [
                .. document.Compartments.Select(part =>
                    part with
                    {
                        Symbol = indexed.GetValueOrDefault(part.Symbol, part.Symbol),
                        Next = IsSplit(part.Id) ? InSplit(part.Next) : part.Next,
                    }
                ),
            ],
            Definitions =
            [
                .. document.Definitions.Select(part =>
                    part with
                    {
                        Symbol = indexed.GetValueOrDefault(part.Symbol, part.Symbol),
                        Text = IsSplit(part.Id) ? InSplit(part.Text) : part.Text,
                    }
                ),
            ],
            Flows =
            [
                .. document.Flows.Select(flow =>
                    IsSplit(flow.From) || flow.To.Any(target => IsSplit(target.Id)) ? flow with { Rate = InSplit(flow.Rate) } : flow
                ),
            ],
        };
    }

    /// <summary>The groups, what passes between their members, and the numbers that members have of their own.</summary>
    public static IEnumerable<Equation> Of(StudyDocument document)
    {
        foreach (var group in document.Groups)
        {
            yield return Said(group.Label, $"{group.Symbol}: {string.Join(", ", group.Members.Select(member => member.Name))}");
            foreach (var line in GroupText.Passages(group))
                yield return Said(group.Label, line);
        }
        foreach (
            var line in document.SymbolParts.SelectMany(part => GroupText.Lines(document, part).Select(line => (part.Label, Line: line)))
        )
            yield return Said(line.Label, line.Line);
    }

    private static Equation Said(string label, string sentence) =>
        new("Groups", label, sentence, $"<mtext>{WebUtility.HtmlEncode(sentence)}</mtext>", $"\\text{{{Latex.Escape(sentence)}}}");
}
