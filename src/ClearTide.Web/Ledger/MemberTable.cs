using ClearTide.Core.Editing;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Units;

namespace ClearTide.Web.Ledger;

/// <summary>One cell of the table of members.</summary>
/// <param name="Id">The part id under which it is edited.</param>
/// <param name="Text">Its own line, or empty where it has that of all.</param>
/// <param name="Shade">From 0 to 1, where all cells are numbers; else 0.</param>
public sealed record MemberCell(string Id, string Name, string Text, double Shade);

/// <summary>The lines of the members of a split part: one column, or a map of rows and columns where it is split twice.</summary>
/// <param name="Columns">Heads of the columns; empty for one column.</param>
/// <param name="All">The line of all, without its unit.</param>
/// <param name="Unit">The unit that its numbers are in, which is not said in each cell.</param>
public sealed record MemberTable(
    IReadOnlyList<string> Columns,
    IReadOnlyList<(string Head, IReadOnlyList<MemberCell> Cells)> Rows,
    string All,
    string Unit
)
{
    /// <summary>A table of more cells is pasted, not typed.</summary>
    public const int Most = 600;

    /// <summary>The table of a part, or null where it is not split or has more cells than can be looked at.</summary>
    public static MemberTable? Of(StudyRun run, IPart part)
    {
        var (study, groups) = (run.Lowered.Study, run.Lowered.Study.GroupsOf(part.Id));
        if (groups.IsEmpty || study.SplitOf(part.Id) is not { } split)
            return null;
        var members = IndexTable.Combinations(groups).ToList();
        if (members.Count > Most)
            return null;
        var all = PartKinds.Text(part, MemberLines.FieldOf(part)) ?? "";
        var unit = MemberUnit.Of(all);
        var numbers = members.Select(one => Number(study, split.LineOf(string.Join(',', one)) ?? all)).ToList();
        var top = numbers.Contains(null) ? 0 : numbers.Max()!.Value;
        var cells = members
            .Select(
                (one, k) =>
                    new MemberCell(
                        WrittenOut.IdOf(part.Id, one),
                        LedgerMember.NameOf(groups, one),
                        MemberUnit.Without(split.LineOf(string.Join(',', one)) ?? "", unit),
                        top > 0 && groups.Length > 1 ? Math.Clamp(numbers[k]!.Value / top, 0, 1) : 0
                    )
            )
            .ToList();
        if (groups.Length == 1)
            return new([], [.. cells.Select(cell => (cell.Name, (IReadOnlyList<MemberCell>)[cell]))], MemberUnit.Without(all, unit), unit);
        var width = groups[^1].Members.Length;
        return new(
            [.. groups[^1].Members.Select(member => member.Name)],
            [
                .. cells
                    .Chunk(width)
                    .Select(
                        (row, k) =>
                            (LedgerMember.NameOf(groups, members[k * width].RemoveAt(groups.Length - 1)), (IReadOnlyList<MemberCell>)row)
                    ),
            ],
            MemberUnit.Without(all, unit),
            unit
        );
    }

    private static double? Number(StudyDocument study, string line) =>
        Formula.Read(line) is { HasNames: false, Tree: { } tree } ? FormulaBinder.ValueOf(tree, study.UnitTable()) : null;
}
