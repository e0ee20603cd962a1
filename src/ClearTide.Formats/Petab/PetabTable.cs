using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace ClearTide.Formats.Petab;

/// <summary>A problem that cannot be read or written; the message names the file and says what to do.</summary>
public sealed class PetabException(string message) : Exception(message);

/// <summary>A table of a problem: cells by the names of their columns.</summary>
public sealed class PetabTable
{
    /// <summary>Rows of a table at most.</summary>
    public const int MostRows = 100_000;

    private readonly List<string[]> _rows = [];
    private readonly string[] _heads;

    /// <summary>What its file is called.</summary>
    public string Name { get; }

    public IReadOnlyList<string> Heads => _heads;

    public int Count => _rows.Count;

    /// <param name="text">Cells between tabs, a heading above.</param>
    /// <param name="needed">Columns without which it says nothing.</param>
    /// <exception cref="PetabException">It is no such table.</exception>
    public PetabTable(string name, string text, params string[] needed)
    {
        Name = name;
        var configuration = new CsvConfiguration(CultureInfo.InvariantCulture)
        {
            Delimiter = "\t",
            HasHeaderRecord = false,
            TrimOptions = TrimOptions.Trim,
            BadDataFound = null,
        };
        using var parser = new CsvParser(new StringReader(text.TrimStart('\uFEFF')), configuration);
        _heads = parser.Read() ? parser.Record! : [];
        foreach (var head in needed)
        {
            if (!_heads.Contains(head))
                throw new PetabException($"{name} has no column {head}. Its cells are to be separated by tabs, with a heading above.");
        }
        while (parser.Read())
        {
            if (parser.Record!.Any(cell => cell.Length > 0))
                _rows.Add(parser.Record!);
            if (_rows.Count > MostRows)
                throw new PetabException($"{name} has more than {MostRows:N0} rows, which is the limit.");
        }
    }

    /// <summary>A cell; empty where there is none.</summary>
    public string this[int row, string head] =>
        Array.IndexOf(_heads, head) is >= 0 and var column && column < _rows[row].Length ? _rows[row][column] : "";

    /// <summary>A cell as a number; null where it is none.</summary>
    public double? Number(int row, string head) => Number(this[row, head]);

    public static double? Number(string cell) =>
        double.TryParse(cell, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && double.IsFinite(number) ? number : null;

    /// <summary>A number that has to be there.</summary>
    /// <exception cref="PetabException">It is not.</exception>
    public double Require(int row, string head) =>
        Number(row, head) ?? throw new PetabException($"{Name}, row {row + 2}: {head} is “{this[row, head]}”, which is no number.");

    /// <summary>Rows as text, a heading above.</summary>
    public static string Write(IReadOnlyList<string> heads, IEnumerable<IReadOnlyList<string>> rows)
    {
        using var text = new StringWriter();
        using var csv = new CsvWriter(text, new CsvConfiguration(CultureInfo.InvariantCulture) { NewLine = "\n", Delimiter = "\t" });
        foreach (var row in rows.Prepend(heads))
        {
            foreach (var cell in row)
                csv.WriteField(cell);
            csv.NextRecord();
        }
        csv.Flush();
        return text.ToString();
    }
}
