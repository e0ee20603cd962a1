using System.Buffers;
using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using System.Runtime.InteropServices;
using CsvHelper;
using CsvHelper.Configuration;

namespace ClearTide.Formats.Tables;

/// <summary>A table as read from delimited text: its heading and its rows of cells, all as typed.</summary>
/// <param name="Separator">The mark between cells.</param>
public sealed record CountTable(ImmutableArray<string> Columns, ImmutableArray<ImmutableArray<string>> Rows, char Separator)
{
    /// <summary>Characters of a table at most.</summary>
    public const int LongestText = 5_000_000;

    /// <summary>Rows of a table at most.</summary>
    public const int MostRows = 100_000;

    /// <summary>Columns of a table at most.</summary>
    public const int MostColumns = 200;

    /// <summary>Control characters, which no text has but for those that part lines and cells.</summary>
    private static readonly SearchValues<char> Binary = SearchValues.Create([
        .. Enumerable.Range(0, 0xA0).Select(code => (char)code).Where(c => char.IsControl(c) && c is not ('\r' or '\n' or '\t')),
    ]);

    /// <summary>The separator is guessed from this many lines.</summary>
    private const int SampleLines = 60;

    /// <summary>So many rows are offered as the heading.</summary>
    private const int MostHeadings = 15;

    /// <summary>The number of each row in the file: lines from one on, the heading and empty ones counted.</summary>
    public required ImmutableArray<int> Lines { get; init; }

    /// <summary>Lines above the heading that are no part of the table: titles and notes.</summary>
    public required ImmutableArray<string> Above { get; init; }

    /// <summary>The row of the file that holds the headings; 0 where none does.</summary>
    public required int Heading { get; init; }

    /// <summary>The first rows, which may be the heading: their numbers in the file, and what they hold.</summary>
    public required ImmutableArray<(int Row, string Content)> First { get; init; }

    /// <summary>How its numbers are written, as guessed from all cells.</summary>
    public required NumberForm Numbers { get; init; }

    private readonly ConcurrentDictionary<(int Column, NumberForm Form), double[]> _numbers = [];

    /// <summary>The numbers of a column, row by row; not a number where a cell is none. Read once: each choice on a page asks for them
    /// again.</summary>
    public IReadOnlyList<double> NumbersOf(int column, NumberForm form) =>
        _numbers.GetOrAdd((column, form), static (key, table) => table.ReadNumbers(key.Column, key.Form), this);

    private readonly ConcurrentDictionary<(int Column, NumberForm Form), TimeForm> _times = [];

    /// <summary>What the times of a column look as if they were written as.</summary>
    public TimeForm TimesOf(int column, NumberForm form) =>
        _times.GetOrAdd(
            (column, form),
            static (key, table) => DateForm.Guess(table.Column(key.Column), table.Columns[key.Column], key.Form),
            this
        );

    private double[] ReadNumbers(int column, NumberForm form)
    {
        var numbers = new double[Rows.Length];
        for (var row = 0; row < numbers.Length; row++)
            numbers[row] = column < Rows[row].Length ? form.Read(Rows[row][column]) ?? double.NaN : double.NaN;
        return numbers;
    }

    /// <summary>All cells of a column, empty where a row is too short.</summary>
    public IReadOnlyList<string> Column(int column) => [.. Rows.Select(row => column < row.Length ? row[column] : "")];

    /// <summary>Reads delimited text; guesses separator, heading and the form of numbers where they are not said.</summary>
    /// <exception cref="TableException">The text is no table, or not one that can be read as it is said.</exception>
    public static CountTable Read(string text, TableReading? reading = null)
    {
        reading ??= TableReading.Guessed;
        if (string.IsNullOrWhiteSpace(text))
            throw new TableException("The file is empty. Choose one that holds a heading and rows of numbers.");
        if (text.Length > LongestText)
            throw new TableException(
                $"This is {text.Length / 1e6:0.#} million characters; at most {LongestText / 1_000_000} million are read. Cut it "
                    + "down to the columns of time and counts."
            );
        if (text.AsSpan().ContainsAny(Binary))
            throw new TableException(
                "This is not a text table: it holds binary data. Save it as CSV or as a workbook (.xlsx) and choose that file."
            );
        var mark = reading.Separator ?? Guess(text);
        var rows = ReadRows(text.TrimStart('\uFEFF'), mark);
        if (reading.Range is { } range)
            rows = Within(rows, range);
        Blank(rows, reading.Missing);
        var width = rows.Max(row => row.Cells.Length);
        if (width > MostColumns)
            throw new TableException($"The table has {width:N0} columns; {MostColumns} is the limit.");
        if (width < 2)
            throw new TableException(
                "This does not look like a table: no comma, semicolon or tab separates its columns. It needs at least a column of times "
                    + "and one of counts."
            );
        ImmutableArray<(int, string)> beginning =
        [
            .. rows.Take(MostHeadings).Select(row => (row.Line, CellText.Row(row.Cells.Where(cell => cell.Length > 0)))),
        ];
        var first = FirstRow(rows, reading.Heading);
        var above = rows.Take(first).Select(row => string.Join(' ', row.Cells.Where(cell => cell.Length > 0))).ToImmutableArray();
        rows.RemoveRange(0, first);
        var heading = rows[0].Cells;
        var numbers = NumberForm.Guess(rows.Skip(reading.Heading == 0 ? 0 : 1).SelectMany(row => row.Cells));
        var isNone =
            reading.Heading == 0
            || reading.Heading is null
                && heading.Any(cell => cell.Length > 0)
                && heading.All(cell => cell.Length == 0 || IsValue(cell, numbers));
        if (isNone)
            rows.Insert(0, (new string[reading.Heading == 0 ? width : heading.Length], 0));
        if (rows.Count < 2)
            throw new TableException("The table has a heading but no rows. Add at least one row of numbers.");
        return new(
            [.. rows[0].Cells.Select((cell, k) => cell is { Length: > 0 } ? cell : $"column {k + 1}")],
            [.. rows.Skip(1).Select(row => ImmutableCollectionsMarshal.AsImmutableArray(row.Cells))],
            mark
        )
        {
            Lines = [.. rows.Skip(1).Select(row => row.Line)],
            Above = above,
            Heading = rows[0].Line,
            First = beginning,
            Numbers = numbers,
        };
    }

    /// <summary>The place of the heading, or of the first row where there is none.</summary>
    private static int FirstRow(List<(string[] Cells, int Line)> rows, int? heading)
    {
        if (heading == 0)
            return 0;
        if (heading is { } line)
            return rows.FindIndex(row => row.Line == line) is >= 0 and var told
                ? told
                : throw new TableException($"Row {line} holds no cells that could be headings. Choose another row for them.");
        // Above the heading stand titles and notes: lines that fill fewer cells than the table does.
        var usual = rows.CountBy(row => row.Cells.Count(cell => cell.Length > 0))
            .Where(filled => filled.Key > 1)
            .OrderByDescending(filled => filled.Value)
            .Select(filled => filled.Key)
            .FirstOrDefault(2);
        return Math.Max(0, rows.FindIndex(row => row.Cells.Count(cell => cell.Length > 0) >= Math.Min(usual, 2) && row.Cells.Length >= 2));
    }

    /// <summary>The cells of a block.</summary>
    private static List<(string[] Cells, int Line)> Within(List<(string[] Cells, int Line)> rows, CellRange range)
    {
        List<(string[] Cells, int Line)> within =
        [
            .. rows.Where(row => range.HasRow(row.Line))
                .Select(row => (Cells: range.Of(row.Cells), row.Line))
                .Where(row => Array.Exists(row.Cells, cell => cell.Length > 0)),
        ];
        return within.Count > 0
            ? within
            : throw new TableException(
                $"Those cells hold nothing. The table has rows {rows[0].Line} to {rows[^1].Line} and columns A to "
                    + $"{CellRange.Letters(rows.Max(row => row.Cells.Length) - 1)}."
            );
    }

    /// <summary>Empties the cells that hold what is said to stand where nothing was seen.</summary>
    private static void Blank(List<(string[] Cells, int Line)> rows, string missing)
    {
        var marks = missing.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).ToHashSet(StringComparer.OrdinalIgnoreCase);
        if (marks.Count == 0)
            return;
        foreach (var (cells, _) in rows)
        {
            for (var k = 0; k < cells.Length; k++)
            {
                if (marks.Contains(cells[k]))
                    cells[k] = "";
            }
        }
    }

    private static bool IsValue(string cell, NumberForm numbers) =>
        numbers.Read(cell) is not null
        || Enum.GetValues<TimeForm>().Any(form => form != TimeForm.Year && DateForm.Read(form, cell) is not null);

    /// <summary>The mark that parts most lines into the same number of cells.</summary>
    private static char Guess(string text)
    {
        var lines = text.Split('\n', SampleLines + 1).Take(SampleLines).Where(line => line.Trim().Length > 0).ToList();
        (int Agreeing, int Cells) Score(char mark)
        {
            var usual = lines
                .Select(line => line.Count(c => c == mark))
                .GroupBy(count => count)
                .Where(group => group.Key > 0)
                .MaxBy(group => group.Count());
            return (usual?.Count() ?? 0, usual?.Key ?? 0);
        }
        // A comma may be a decimal mark as well: it parts columns where nothing else does.
        return new[] { '\t', ';', '|', ',' }
            .OrderByDescending(mark => Score(mark).Agreeing > lines.Count / 2)
            .ThenByDescending(mark => mark != ',' && Score(mark).Agreeing > lines.Count / 2)
            .First();
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
            var cells = parser.Record!;
            if (Array.Exists(cells, cell => cell.Length > 0))
                rows.Add((cells, parser.RawRow));
        }
        return rows.Count > 0 ? rows : throw new TableException("The file is empty. Choose one that holds a heading and rows of numbers.");
    }
}
