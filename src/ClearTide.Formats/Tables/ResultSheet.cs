using System.Globalization;
using CsvHelper;
using MiniExcelLibs;

namespace ClearTide.Formats.Tables;

/// <summary>Results as a workbook of one sheet: numbers as numbers, with all their digits.</summary>
public static class ResultSheet
{
    /// <param name="time">Head of the first column.</param>
    public static byte[] Write(string time, IReadOnlyList<double> times, IReadOnlyList<TableColumn> columns)
    {
        // Heads that are the same are told apart: a sheet of one row a record knows each by its head.
        var heads = new List<string>();
        foreach (var head in columns.Select(column => column.Head).Prepend(time))
            heads.Add(heads.Contains(head) ? $"{head} ({heads.Count})" : head);
        var rows = Enumerable
            .Range(0, times.Count)
            .Select(row =>
            {
                var cells = new Dictionary<string, object?> { [heads[0]] = times[row] };
                for (var k = 0; k < columns.Count; k++)
                    cells[heads[k + 1]] = double.IsFinite(columns[k].Values[row]) ? columns[k].Values[row] : null;
                return cells;
            });
        using var stream = new MemoryStream();
        stream.SaveAs(rows, sheetName: "Results");
        return stream.ToArray();
    }

    /// <summary>A table of results that is there as CSV, as a workbook: cells that are numbers as numbers, empty ones empty.</summary>
    /// <param name="csv">With a head for each column, all of them different.</param>
    public static byte[] OfCsv(string csv)
    {
        using var reader = new CsvParser(new StringReader(csv), CultureInfo.InvariantCulture);
        reader.Read();
        var heads = reader.Record!;
        var rows = new List<Dictionary<string, object?>>();
        while (reader.Read())
            rows.Add(
                heads
                    .Zip(reader.Record!)
                    .ToDictionary(cell => cell.First, object? (cell) => cell.Second.Length == 0 ? null : Cell(cell.Second))
            );
        using var stream = new MemoryStream();
        stream.SaveAs(rows, sheetName: "Results");
        return stream.ToArray();
    }

    private static object Cell(string text) =>
        double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && double.IsFinite(number) ? number : text;
}
