namespace ClearTide.Formats.Tables;

/// <summary>A column that says which values are below what could be seen: by a mark in each row, the value being the limit then, or by
/// the limit itself.</summary>
internal sealed class BelowColumn
{
    private static readonly HashSet<string> Yes = new(StringComparer.OrdinalIgnoreCase) { "1", "yes", "y", "true", "x", "<", "below" },
        No = new(StringComparer.OrdinalIgnoreCase) { "0", "no", "n", "false", "above" };

    private readonly int _column;
    private readonly NumberForm _numbers;
    private readonly bool _marked;

    /// <param name="column">Which it is of the table.</param>
    public BelowColumn(CountTable table, int column, NumberForm numbers)
    {
        (_column, _numbers) = (column, numbers);
        _marked = table
            .Rows.Where(row => column < row.Length && !NumberForm.IsMissing(row[column]))
            .All(row => Yes.Contains(row[column].Trim()) || No.Contains(row[column].Trim()));
    }

    /// <summary>Reads it off a row.</summary>
    /// <param name="count">What stands in the cell of the value.</param>
    /// <param name="value">The value, not a number where the cell holds none; the limit afterwards where it is below one.</param>
    /// <param name="below">Whether it is; set before where the cell itself says so.</param>
    /// <returns>Why the row cannot be used; empty where it can.</returns>
    public string Read(IReadOnlyList<string> cells, string count, ref double value, ref bool below)
    {
        if (below || _column >= cells.Count || NumberForm.IsMissing(cells[_column]))
            return "";
        var cell = cells[_column].Trim();
        if (_marked)
        {
            below = Yes.Contains(cell);
            return below && double.IsNaN(value) ? "it is below a limit, and does not say which" : "";
        }
        if (_numbers.Read(cell) is not { } limit)
            return $"the limit “{CellText.Short(cell, 20)}” is not a number";
        // A word in the place of a value says that nothing could be seen; an empty cell, that nobody looked.
        if (value < limit || double.IsNaN(value) && !NumberForm.IsMissing(count))
            (value, below) = (limit, true);
        return "";
    }
}
