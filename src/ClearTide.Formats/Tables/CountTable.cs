using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using CsvHelper;
using CsvHelper.Configuration;

namespace ClearTide.Formats.Tables;

/// <summary>A table as read from delimited text: its heading and its rows of cells, all as typed.</summary>
public sealed record CountTable(
    ImmutableArray<string> Columns,
    ImmutableArray<ImmutableArray<string>> Rows,
    char Separator,
    char DecimalMark
)
{
    public const int LongestText = 5_000_000;
    public const int MostRows = 20_000;
    public const int MostColumns = 200;

    /// <summary>The number of each row in the file: lines from one on, the heading and empty ones counted.</summary>
    public required ImmutableArray<int> Lines { get; init; }

    /// <summary>Reads delimited text; guesses separator, heading and decimal mark.</summary>
    /// <exception cref="TableException">The text is no table.</exception>
    public static CountTable Read(string text)
    {
        if (string.IsNullOrWhiteSpace(text))
            throw new TableException("The file is empty. Choose one that holds a heading and rows of numbers.");
        if (text.Length > LongestText)
            throw new TableException(
                $"This is {text.Length / 1e6:0.#} million characters; at most {LongestText / 1_000_000} million are read. Cut it "
                    + "down to the columns of time and counts."
            );
        if (text.Any(c => char.IsControl(c) && c is not ('\r' or '\n' or '\t')))
            throw new TableException("This is not a text table: it holds binary data. Save it as CSV and choose that file.");
        var first = text.AsSpan().Trim('\uFEFF').TrimStart();
        var line = first[..(first.IndexOfAny('\r', '\n') is var end && end >= 0 ? end : first.Length)].ToString();
        var separator = new[] { '\t', ';', ',' }.OrderByDescending(candidate => line.Count(c => c == candidate)).First();
        if (!line.Contains(separator))
            throw new TableException(
                "This does not look like a table: the first line has no comma, semicolon or tab. It needs at least a column of times "
                    + "and one of counts."
            );
        var rows = ReadRows(text.TrimStart('\uFEFF'), separator);
        var heading = rows[0].Cells;
        if (heading.Length > MostColumns)
            throw new TableException($"The table has {heading.Length:N0} columns; {MostColumns} is the limit.");
        if (heading.All(cell => Number(cell, '.') is not null))
            rows.Insert(0, ([.. Enumerable.Range(1, heading.Length).Select(k => $"column {k}")], 0));
        if (rows.Count < 2)
            throw new TableException("The table has a heading but no rows. Add at least one row of numbers.");
        var decimalMark = separator != ',' && rows.Skip(1).SelectMany(row => row.Cells).Any(cell => cell.Contains(',')) ? ',' : '.';
        return new([.. rows[0].Cells], [.. rows.Skip(1).Select(row => row.Cells.ToImmutableArray())], separator, decimalMark)
        {
            Lines = [.. rows.Skip(1).Select(row => row.Line)],
        };
    }

    private static List<(string[] Cells, int Line)> ReadRows(string text, char separator)
    {
        var configuration = new CsvConfiguration(CultureInfo.InvariantCulture)
        {
            Delimiter = separator.ToString(),
            HasHeaderRecord = false,
            IgnoreBlankLines = true,
            TrimOptions = TrimOptions.Trim,
            BadDataFound = wrong =>
                throw new TableException(
                    $"A quotation mark in row {wrong.Context.Parser?.RawRow} is not closed. Mend that row and try again."
                ),
        };
        using var parser = new CsvParser(new StringReader(text), configuration);
        var rows = new List<(string[] Cells, int Line)>();
        while (parser.Read())
        {
            if (rows.Count > MostRows)
                throw new TableException($"The table has more than {MostRows:N0} rows. Sum them up to longer intervals first.");
            rows.Add((parser.Record!, parser.RawRow));
        }
        return rows.Count > 0 ? rows : throw new TableException("The file is empty. Choose one that holds a heading and rows of numbers.");
    }

    /// <summary>A cell as a number, or null.</summary>
    public static double? Number(string cell, char decimalMark)
    {
        var plain = new StringBuilder();
        foreach (var c in cell.Trim())
        {
            if (c is '\u00a0' or '\u2009' or '\u202f')
                continue;
            plain.Append(
                c == decimalMark ? '.'
                : c == '−' ? '-'
                : c
            );
        }
        return
            double.TryParse(
                plain.ToString(),
                NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint | NumberStyles.AllowExponent,
                CultureInfo.InvariantCulture,
                out var number
            ) && double.IsFinite(number)
            ? number
            : null;
    }
}

/// <summary>A table that cannot be read; the message says what to do.</summary>
public sealed class TableException(string message) : Exception(message);

/// <summary>Which columns hold time and counts, and what the time marks.</summary>
/// <param name="TimeIsEnd">Whether the time is the end of its row's interval, else its start.</param>
/// <param name="Interval">Length of a row's interval in the study's time unit; null for the usual spacing of the rows.</param>
public sealed record CountMapping(int TimeColumn, int ValueColumn, bool TimeIsEnd, double? Interval);

/// <summary>A row that could not be used: its number in the file, and why.</summary>
public sealed record BadRow(int Row, string Reason);

/// <summary>A table read through a mapping.</summary>
/// <param name="Interval">The length of interval that was used.</param>
public sealed record MappedCounts(ImmutableArray<DataRow> Rows, ImmutableArray<BadRow> Bad, double Interval, bool WasSorted);

/// <summary>Turns cells into rows of counts. Every row that is left out is listed with its reason.</summary>
public static class CountMapper
{
    public static MappedCounts Map(CountTable table, CountMapping mapping)
    {
        if (
            mapping.TimeColumn < 0
            || mapping.TimeColumn >= table.Columns.Length
            || mapping.ValueColumn < 0
            || mapping.ValueColumn >= table.Columns.Length
        )
            throw new TableException("Choose a column for the time and one for the counts.");
        if (mapping.TimeColumn == mapping.ValueColumn)
            throw new TableException("Time and counts cannot be the same column. Choose another for one of them.");
        if (mapping.Interval is <= 0)
            throw new TableException("The length of an interval is more than zero.");
        var bad = new List<BadRow>();
        var good = new List<(double Time, double Value, int Row)>();
        for (var k = 0; k < table.Rows.Length; k++)
        {
            var row = table.Lines[k];
            var cells = table.Rows[k];
            if (cells.Length <= Math.Max(mapping.TimeColumn, mapping.ValueColumn))
                bad.Add(new(row, "it has too few columns"));
            else if (CountTable.Number(cells[mapping.TimeColumn], table.DecimalMark) is not { } time)
                bad.Add(new(row, $"the time “{Short(cells[mapping.TimeColumn])}” is not a number"));
            else if (cells[mapping.ValueColumn].Length == 0)
                bad.Add(new(row, "the count is missing"));
            else if (CountTable.Number(cells[mapping.ValueColumn], table.DecimalMark) is not { } value)
                bad.Add(new(row, $"the count “{Short(cells[mapping.ValueColumn])}” is not a number"));
            else if (value < 0)
                bad.Add(new(row, $"the count {cells[mapping.ValueColumn]} is negative"));
            else if (value != Math.Floor(value))
                bad.Add(new(row, $"the count {cells[mapping.ValueColumn]} is not whole"));
            else
                good.Add((time, value, row));
        }
        var sorted = good.OrderBy(row => row.Time).ToList();
        for (var k = sorted.Count - 1; k > 0; k--)
        {
            if (sorted[k].Time != sorted[k - 1].Time)
                continue;
            bad.Add(new(sorted[k].Row, $"its time {sorted[k].Time:0.###} stands in row {sorted[k - 1].Row} already"));
            sorted.RemoveAt(k);
        }
        if (sorted.Count == 0)
            throw new TableException(
                bad.Count > 0
                    ? $"No row can be used: in row {bad[0].Row} {bad[0].Reason}. Check which column holds what."
                    : "The table has no rows."
            );
        var interval = mapping.Interval ?? UsualSpacing(sorted.Select(row => row.Time).ToList());
        var rows = sorted
            .Select(row =>
                mapping.TimeIsEnd
                    ? new DataRow(row.Time - interval, row.Time, row.Value)
                    : new DataRow(row.Time, row.Time + interval, row.Value)
            )
            .ToImmutableArray();
        for (var k = 1; k < rows.Length; k++)
        {
            if (rows[k].Start < rows[k - 1].End - 1e-9)
                throw new TableException(
                    $"With intervals of {interval:0.###}, the rows at {sorted[k - 1].Time:0.###} and {sorted[k].Time:0.###} overlap. "
                        + "Type a shorter interval."
                );
        }
        return new(
            rows,
            [.. bad.OrderBy(row => row.Row)],
            interval,
            !sorted.Select(row => row.Row).SequenceEqual(sorted.Select(row => row.Row).Order())
        );
    }

    /// <summary>The median spacing, so that a missing week does not lengthen the others; one row alone counts one unit of time.</summary>
    private static double UsualSpacing(List<double> times)
    {
        if (times.Count < 2)
            return 1;
        var gaps = times.Zip(times.Skip(1), (a, b) => b - a).Order().ToList();
        return gaps[gaps.Count / 2];
    }

    private static string Short(string cell) => cell.Length <= 20 ? cell : cell[..19] + "…";
}
