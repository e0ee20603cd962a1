using ClearTide.Core.Formulas;

namespace ClearTide.Core.Models;

/// <summary>Which parts depend on an unfinished one. Their curves are drawn, and look provisional.</summary>
internal static class Provisional
{
    public static IReadOnlySet<string> Parts(StudyDocument document, IReadOnlyList<Finding> findings)
    {
        var marked = findings.Where(finding => finding is { Severity: Severity.Unfinished, PartId: not null }).Select(finding => finding.PartId!).ToHashSet();
        if (marked.Count == 0) return marked;
        var users = new Dictionary<string, List<string>>();
        void Uses(string user, string used)
        {
            if (!users.TryGetValue(used, out var list)) users[used] = list = [];
            list.Add(user);
        }
        var ids = document.Compartments.Select(part => (part.Symbol, part.Id)).Concat(document.Definitions.Select(part => (part.Symbol, part.Id)))
            .GroupBy(pair => pair.Symbol).ToDictionary(group => group.Key, group => group.First().Id);
        void UsesNames(string user, Formula formula)
        {
            if (formula.Tree is null) return;
            foreach (var name in formula.Tree.Names())
            {
                if (ids.TryGetValue(name.Name, out var used)) Uses(user, used);
            }
        }
        foreach (var part in document.Definitions) UsesNames(part.Id, Formula.Read(part.Text));
        foreach (var part in document.Compartments) UsesNames(part.Id, StartLine.Read(part.Start).Formula);
        foreach (var part in document.Flows)
        {
            UsesNames(part.Id, Formula.Read(part.Rate));
            if (part.From is not null)
            {
                Uses(part.From, part.Id);
                if (part.Kind != RateKind.Whole) Uses(part.Id, part.From);
            }
            if (part.To is not null) Uses(part.To, part.Id);
        }
        var open = new Queue<string>(marked);
        while (open.TryDequeue(out var used))
        {
            foreach (var user in users.GetValueOrDefault(used, []))
            {
                if (marked.Add(user)) open.Enqueue(user);
            }
        }
        return marked;
    }
}
