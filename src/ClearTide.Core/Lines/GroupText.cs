using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Lines;

/// <summary>What groups add to a model as text.</summary>
public static class GroupText
{
    /// <summary>The groups behind the symbol of a split part: <c>[age]</c>; empty for one that is not split.</summary>
    internal static string Brackets(StudyDocument document, string partId) =>
        document.GroupsOf(partId) is { IsEmpty: false } groups ? $"[{string.Join(", ", groups.Select(group => group.Symbol))}]" : "";

    /// <summary>An end of a flow, with the member where it says one; null for the outside.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="partId">Id of the compartment, or null for the outside.</param>
    /// <param name="member">Symbols of members, empty for none.</param>
    public static string? End(StudyDocument document, string? partId, string member) =>
        document.Compartment(partId)?.Symbol is not { } symbol ? null
        : member.Length == 0 ? symbol
        : MemberName.Print(MemberName.Of(symbol, [member]));

    /// <summary>The lines of members that have one of their own.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="part">The part.</param>
    public static IEnumerable<string> Lines(StudyDocument document, ISymbolPart part)
    {
        if (document.SplitOf(part.Id) is not { } split)
            yield break;
        if (part is Definition && Table(document, part, split) is { } table)
        {
            yield return table;
            yield break;
        }
        var isStart = part is Compartment;
        foreach (var line in split.Lines)
            yield return $"{MemberName.Print($"{part.Symbol}[{line.Member}]")}{(isStart ? "(0)" : "")} = {line.Text}";
    }

    /// <summary>A value that is a number of one unit for each member as a table; null for any other.</summary>
    private static string? Table(StudyDocument document, ISymbolPart part, Split split)
    {
        var groups = document.GroupsOf(part.Id);
        if (groups.Length < 2)
            return null;
        var cells = new List<string>();
        string? unit = null;
        foreach (var members in Combinations(groups))
        {
            // “7.4 per day” is a number and what stands behind it.
            if (split.LineOf(members)?.Trim() is not { Length: > 0 } line)
                return null;
            var cut = line.IndexOf(' ', StringComparison.Ordinal) is var at and > 0 ? at : line.Length;
            if (!TypedNumber.Read(line[..cut].TrimEnd('%')).HasValue || (unit ??= line[cut..].Trim()) != line[cut..].Trim())
                return null;
            cells.Add(line[..cut]);
        }
        var rows = cells.Chunk(groups[^1].Members.Length).Select(row => string.Join(' ', row));
        return $"{part.Symbol}{Brackets(document, part.Id)} = table {string.Join(", ", rows)} {unit}".TrimEnd();
    }

    private static IEnumerable<string> Combinations(IEnumerable<Group> groups) =>
        groups.Aggregate((IEnumerable<string>)[""], (made, group) =>
            made.SelectMany(before => group.Members.Select(one => before.Length == 0 ? one.Symbol : $"{before},{one.Symbol}"))
        );

    /// <summary>What passes between the members of a group.</summary>
    /// <param name="group">The group.</param>
    public static IEnumerable<string> Passages(Group group) =>
        group.Passages.Select(passage =>
            $"{(passage.Kind == PassageKind.Along ? "along" : "among")} {group.Symbol} {RateLine.Write(passage.RateKind, passage.Rate)}"
        );
}
