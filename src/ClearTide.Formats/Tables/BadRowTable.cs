namespace ClearTide.Formats.Tables;

/// <summary>Rows that cannot be used, as a table of their own.</summary>
public static class BadRowTable
{
    /// <param name="lines">The file that they are of.</param>
    /// <returns>CSV: number in the file, reason, and the line as it stands.</returns>
    public static string Write(IEnumerable<BadRow> rows, TableLines lines)
    {
        using var text = new StringWriter();
        using var csv = ResultTable.Writer(text);
        foreach (
            var cells in rows.Select(bad => new[] { $"{bad.Row}", bad.Reason, lines[bad.Row] ?? bad.Content })
                .Prepend(["row", "reason", "content"])
        )
        {
            foreach (var cell in cells)
                csv.WriteField(ResultTable.Name(cell));
            csv.NextRecord();
        }
        csv.Flush();
        return text.ToString();
    }
}
