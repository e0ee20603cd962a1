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

    /// <summary>The number of each row in the file: lines from one on, the heading and empty ones counted.</summary>
    public required ImmutableArray<int> Lines { get; init; }

    /// <summary>Lines above the heading that are no part of the table: titles and notes.</summary>
    public required ImmutableArray<string> Above { get; init; }

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

    /// <summary>Reads delimited text; guesses separator, heading and the form of numbers.</summary>
    /// <param name="separator">The mark between cells, or null to guess it.</param>
    /// <exception cref="TableException">The text is no table.</exception>
    public static CountTable Read(string text, char? separator = null)
    {
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
        var mark = separator ?? Guess(text);
        var rows = ReadRows(text.TrimStart('\uFEFF'), mark);
        var width = rows.Max(row => row.Cells.Length);
        if (width > MostColumns)
            throw new TableException($"The table has {width:N0} columns; {MostColumns} is the limit.");
        if (width < 2)
            throw new TableException(
                "This does not look like a table: no comma, semicolon or tab separates its columns. It needs at least a column of times "
                    + "and one of counts."
            );
        // Above the heading stand titles and notes: lines that fill fewer cells than the table does.
        var usual = rows.CountBy(row => row.Cells.Count(cell => cell.Length > 0))
            .Where(filled => filled.Key > 1)
            .OrderByDescending(filled => filled.Value)
            .Select(filled => filled.Key)
            .FirstOrDefault(2);
        var first = rows.FindIndex(row => row.Cells.Count(cell => cell.Length > 0) >= Math.Min(usual, 2) && row.Cells.Length >= 2);
        var above = rows.Take(first).Select(row => string.Join(' ', row.Cells.Where(cell => cell.Length > 0))).ToImmutableArray();
        rows.RemoveRange(0, first);
        var numbers = NumberForm.Guess(rows.Skip(1).SelectMany(row => row.Cells));
        var heading = rows[0].Cells;
        if (heading.Any(cell => cell.Length > 0) && heading.All(cell => cell.Length == 0 || IsValue(cell, numbers)))
            rows.Insert(0, ([.. Enumerable.Range(1, heading.Length).Select(k => $"column {k}")], 0));
        if (rows.Count < 2)
            throw new TableException("The table has a heading but no rows. Add at least one row of numbers.");
        return new(
            [.. rows[0].Cells.Select((cell, k) => cell.Length > 0 ? cell : $"column {k + 1}")],
            [.. rows.Skip(1).Select(row => ImmutableCollectionsMarshal.AsImmutableArray(row.Cells))],
            mark
        )
        {
            Lines = [.. rows.Skip(1).Select(row => row.Line)],
            Above = above,
            Numbers = numbers,
        };
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
