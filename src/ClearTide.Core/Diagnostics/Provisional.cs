using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Diagnostics;

/// <summary>Which parts depend on an unfinished one. Their curves are drawn, and look provisional.</summary>
internal static class Provisional
{
    public static IReadOnlySet<string> Parts(StudyDocument document, IReadOnlyList<Finding> findings)
    {
        var marked = findings
            .Where(finding => finding is { Severity: Severity.Unfinished, PartId: not null })
            .Select(finding => finding.PartId!)
            .ToHashSet();
        if (marked.Count == 0)
            return marked;
        var users = new Dictionary<string, List<string>>();
        void Uses(string user, string used)
        {
            if (!users.TryGetValue(used, out var list))
                users[used] = list = [];
            list.Add(user);
        }
        var ids = document.SymbolParts.GroupBy(part => part.Symbol).ToDictionary(group => group.Key, group => group.First().Id);
        foreach (var part in document.Parts)
        {
            foreach (var name in LineNames.Of(part))
            {
                if (ids.TryGetValue(name.Name, out var used))
                    Uses(part.Id, used);
            }
        }
        foreach (var part in document.Flows)
        {
            if (part.From is not null)
            {
                Uses(part.From, part.Id);
                if (part.Kind != RateKind.Whole)
                    Uses(part.Id, part.From);
            }
            foreach (var target in part.To)
            {
                if (target.Id is not null)
                    Uses(target.Id, part.Id);
            }
        }
        foreach (var part in document.Reactions)
        {
            foreach (var end in ReactionLine.Read(part.Text).Line?.Ends ?? [])
            {
                if (ids.TryGetValue(end.Name.Name, out var changed))
                    Uses(changed, part.Id);
            }
        }
        foreach (var rule in document.Events)
        {
            // An event reaches what it changes.
            foreach (var action in EventLine.Read(rule.Text).Line?.Actions ?? [])
            {
                foreach (var name in new[] { action.Target, action.MoveTo }.OfType<NameSyntax>())
                {
                    if (ids.TryGetValue(name.Name, out var changed))
                        Uses(changed, rule.Id);
                }
            }
        }
        var open = new Queue<string>(marked);
        while (open.TryDequeue(out var used))
        {
            foreach (var user in users.GetValueOrDefault(used, []))
            {
                if (marked.Add(user))
                    open.Enqueue(user);
            }
        }
        return marked;
    }
}
