using ClearTide.Core.Groups;
using ClearTide.Core.Model;

namespace ClearTide.Web.Studies;

/// <summary>Columns of a table that are of one member of a group, which their headings name: <c>cases child</c>, <c>old</c>.</summary>
public static class MemberColumn
{
    private static readonly char[] Breaks = [' ', '_', '-', '.', ',', ':', '(', ')', '[', ']'];

    /// <summary>The symbol of the member that a heading names; null where it names none, or more than one.</summary>
    public static string? Of(StudyDocument document, string heading)
    {
        var words = heading.Split(Breaks, StringSplitOptions.RemoveEmptyEntries).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var named = document
            .Groups.SelectMany(group => group.Members)
            .Where(member =>
                words.Contains(member.Symbol)
                || (member.Label.Length > 0 && heading.Contains(member.Label, StringComparison.OrdinalIgnoreCase))
            )
            .ToList();
        return named is [var only] ? only.Symbol : null;
    }

    /// <summary>Id of the first flow of that member.</summary>
    public static string? Flow(StudyDocument document, string member)
    {
        var written = WrittenOut.Of(document);
        return document
            .Flows.SelectMany(flow => written.Members(flow.Id))
            .FirstOrDefault(one => one.Members.Length == 1 && one.Members[0] == member)
            ?.Id;
    }
}
