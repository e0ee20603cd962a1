using System.Globalization;
using System.Text.RegularExpressions;

namespace ClearTide.Formats.Tables;

/// <summary>A block of cells, as spreadsheets write it: <c>B3:F40</c>, whole columns <c>B:F</c>, whole rows <c>3:40</c>, or
/// <c>B3</c> for all from there on.</summary>
/// <param name="FirstRow">Its first row in the file, from 1 on.</param>
/// <param name="LastRow">Its last row; the largest number there is where it has no end.</param>
/// <param name="FirstColumn">The place of its first column, from 0 on.</param>
/// <param name="LastColumn">The place of its last column; the largest number there is where it has no end.</param>
public sealed partial record CellRange(int FirstRow, int LastRow, int FirstColumn, int LastColumn)
{
    /// <summary>Reads a block of cells, in either case, with or without the marks of fixed cells; null where nothing is typed.</summary>
    /// <exception cref="TableException">It is no block of cells.</exception>
    public static CellRange? Read(string? text)
    {
        if (string.IsNullOrWhiteSpace(text))
            return null;
        var parts = text.Replace("$", "", StringComparison.Ordinal).Split(':', StringSplitOptions.TrimEntries);
        if (parts.Length > 2 || Corner(parts[0]) is not var (row, column) || Corner(parts[^1]) is not var (lastRow, lastColumn))
            throw new TableException($"“{text.Trim()}” is no block of cells. Write it as B3:F40, as columns B:F, or as rows 3:40.");
        var single = parts.Length == 1;
        int Last(int? last) => single ? int.MaxValue : last ?? int.MaxValue;
        var (top, bottom) = (row ?? 1, Last(lastRow));
        var (left, right) = (column ?? 0, Last(lastColumn));
        return new(Math.Min(top, bottom), Math.Max(top, bottom), Math.Min(left, right), Math.Max(left, right));
    }

    /// <summary>Whether a row of the file has cells in it.</summary>
    public bool HasRow(int row) => row >= FirstRow && row <= LastRow;

    /// <summary>The cells of a row that are in it.</summary>
    public string[] Of(string[] cells) =>
        FirstColumn >= cells.Length ? [] : cells[FirstColumn..(LastColumn >= cells.Length ? cells.Length : LastColumn + 1)];

    /// <summary>The letters of a column, from its place.</summary>
    public static string Letters(int column) =>
        column < 26 ? ((char)('A' + column)).ToString() : Letters((column / 26) - 1) + (char)('A' + (column % 26));

    /// <summary>A corner: its row and the place of its column, each null where it is not said; null where it is no corner.</summary>
    private static (int? Row, int? Column)? Corner(string text)
    {
        if (CornerForm().Match(text) is not { Success: true, Length: > 0 } match)
            return null;
        var letters = match.Groups["letters"].ValueSpan;
        var digits = match.Groups["digits"].ValueSpan;
        var column = 0;
        foreach (var letter in letters)
            column = (column * 26) + char.ToUpperInvariant(letter) - 'A' + 1;
        return (digits.IsEmpty ? null : int.Parse(digits, CultureInfo.InvariantCulture), letters.IsEmpty ? null : column - 1);
    }

    [GeneratedRegex(@"^(?<letters>[A-Za-z]{0,3})(?<digits>(?:[1-9][0-9]{0,6})?)$")]
    private static partial Regex CornerForm();
}
