using System.Globalization;
using ClearTide.Core.Language;

namespace ClearTide.Core.Lines;

/// <summary>Numbers in rows and columns, as they are pasted from a table: separated by tabs, semicolons, commas or spaces, with or without
/// a head above and names at the left.</summary>
/// <param name="Cells">Row by row, as typed.</param>
/// <param name="Problem">What is wrong with it, in a sentence; null where nothing is.</param>
internal sealed record PastedMatrix(IReadOnlyList<IReadOnlyList<string>> Cells, string? Problem)
{
    private static readonly char[] Lines = ['\n', '\r'];

    /// <param name="text">Numbers separated by tabs, semicolons, commas or spaces, a row a line.</param>
    /// <param name="rows">How many rows it is to have.</param>
    /// <param name="columns">How many columns.</param>
    public static PastedMatrix Read(string text, int rows, int columns)
    {
        var lines = text.Split(Lines, StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Select(Row).ToList();
        if (lines.Count == 0)
            return Wrong("Paste a table of numbers: one row for each member, its numbers separated by tabs, commas or spaces.");
        // A head and names at the side say what is known; a corner may be empty.
        if (lines.Count == rows + 1 && lines[0].All(cell => !IsNumber(cell)))
            lines.RemoveAt(0);
        if (lines.All(line => line.Count == columns + 1 && !IsNumber(line[0])))
            lines = [.. lines.Select(line => line.Skip(1).ToList())];
        if (lines.Count != rows)
            return Wrong($"This table has {lines.Count} {(lines.Count == 1 ? "row" : "rows")} and needs {rows}: one for each member.");
        for (var k = 0; k < rows; k++)
        {
            if (lines[k].Count != columns)
                return Wrong($"Row {k + 1} has {lines[k].Count} {(lines[k].Count == 1 ? "number" : "numbers")} and needs {columns}.");
            if (lines[k].FirstOrDefault(cell => !IsNumber(cell)) is { } word)
                return Wrong($"“{word}” in row {k + 1} is no number. Decimals are marked by a point.");
        }
        return new(lines, null);
    }

    private static List<string> Row(string line)
    {
        var cut =
            line.Contains('\t', StringComparison.Ordinal) ? '\t'
            : line.Contains(';', StringComparison.Ordinal) ? ';'
            : line.Contains(',', StringComparison.Ordinal) ? ','
            : ' ';
        return
        [
            .. line.Split(
                cut,
                StringSplitOptions.TrimEntries | (cut == ' ' ? StringSplitOptions.RemoveEmptyEntries : StringSplitOptions.None)
            ),
        ];
    }

    private static bool IsNumber(string cell) => TypedNumber.Read(cell.TrimEnd('%')).HasValue;

    private static PastedMatrix Wrong(string why) => new([], why);

    /// <summary>The cells as numbers.</summary>
    public double[,] Numbers()
    {
        var numbers = new double[Cells.Count, Cells[0].Count];
        for (var i = 0; i < Cells.Count; i++)
        {
            for (var j = 0; j < Cells[i].Count; j++)
            {
                var cell = Cells[i][j];
                numbers[i, j] = double.Parse(cell.TrimEnd('%'), CultureInfo.InvariantCulture) * (cell.EndsWith('%') ? 0.01 : 1);
            }
        }
        return numbers;
    }
}
