namespace ClearTide.Formats.Tables;

/// <summary>How cells are found in the text of a table: what is said of it, where it is not to be guessed.</summary>
/// <param name="Separator">The mark between cells; null to guess it.</param>
/// <param name="Heading">The row of the file that holds the headings; 0 where none does; null to guess it.</param>
/// <param name="Range">The cells that are the table; null for all of them.</param>
/// <param name="Missing">What a cell holds where nothing was seen, several of them parted by blanks; beside what always says so.</param>
public sealed record TableReading(char? Separator = null, int? Heading = null, CellRange? Range = null, string Missing = "")
{
    /// <summary>All as it looks.</summary>
    public static readonly TableReading Guessed = new();
}
