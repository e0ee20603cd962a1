namespace ClearTide.Formats.Tables;

/// <summary>Rows of the same time as one, as it is chosen.</summary>
public static partial class CountMapper
{
    private static List<Cell> OneATime(List<Cell> sorted, SameTime rule, List<BadRow> bad, List<string> notes)
    {
        var kept = new List<Cell>();
        var (joined, together) = (0, 0);
        foreach (var cell in sorted)
        {
            if (kept.Count == 0 || kept[^1].Start != cell.Start)
            {
                kept.Add(cell);
                together = 1;
            }
            else if (rule is (SameTime.Sum or SameTime.Mean) && (cell.Below || kept[^1].Below))
                bad.Add(new(cell.Row, $"a value below a limit cannot be put together with row {kept[^1].Row}", cell.Content));
            else if (rule is SameTime.First or SameTime.Each)
                bad.Add(new(cell.Row, $"its time stands in row {kept[^1].Row} already", cell.Content));
            else
            {
                kept[^1] = Joined(kept[^1], cell, rule == SameTime.Mean ? ++together : 0);
                joined++;
            }
        }
        if (joined > 0)
            notes.Add(
                $"{joined} {(joined == 1 ? "row was" : "rows were")} {(rule == SameTime.Mean ? "averaged with" : "added to")} another of "
                    + "the same time."
            );
        return kept;
    }

    /// <summary>Two values of one time as one.</summary>
    /// <param name="count">How many have been averaged with this one; 0 to sum them.</param>
    private static Cell Joined(Cell all, Cell next, int count)
    {
        var (value, beside) = all.Beside.With(all.Value, next.Value, next.Beside, count);
        return all with { Value = value, Beside = beside };
    }
}
