using ClearTide.Core.Groups;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Gives the members of a split part their lines by a pasted table: rows are the first groups, columns the last one.</summary>
/// <param name="PartId">Id of the part.</param>
/// <param name="Table">Lines of cells between tabs, semicolons or spaces.</param>
public sealed record SetTable(string PartId, string Table) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (
            document.Part(PartId) is not { } part
            || document.SplitOf(PartId) is not { } split
            || document.GroupsOf(PartId) is not { IsEmpty: false } groups
        )
            return EditResult.Refused("This is not split, so it has no table.");
        var columns = groups.Length == 1 ? 1 : groups[^1].Members.Length;
        var rows = IndexTable.Combinations(groups).Count() / columns;
        // Of one group the numbers may stand in a row or in a column.
        var matrix = PastedMatrix.Read(Table, rows, columns);
        if (matrix.Problem is not null && groups.Length == 1)
            matrix = PastedMatrix.Read(Table, 1, rows) is { Problem: null } line ? line : matrix;
        if (matrix.Problem is { } problem)
            return EditResult.Refused(problem);
        var cells = matrix.Cells.SelectMany(row => row).ToList();
        var unit = MemberUnit.Of(PartKinds.Text(part, MemberLines.FieldOf(part)) ?? "");
        return document with
        {
            Splits = document.Splits.Replace(
                split,
                split with
                {
                    Lines =
                    [
                        .. IndexTable
                            .Combinations(groups)
                            .Select((members, k) => new MemberLine(string.Join(',', members), MemberUnit.With(cells[k], unit))),
                    ],
                }
            ),
        };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"{before.Part(PartId)?.Name}: a table for its members";
}
