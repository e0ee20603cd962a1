using ClearTide.Formats.Tables;
using ClearTide.Storage;

namespace ClearTide.Web.Studies;

/// <summary>Tables that were read a moment ago: each change of a choice on the page sends the same text again.</summary>
public sealed class ReadTables()
    : SizedCache<(string Text, TableReading Reading), CountTable>(MostCells, table => (long)table.Rows.Length * table.Columns.Length)
{
    /// <summary>Cells of all that are kept.</summary>
    private const long MostCells = 2_000_000;

    /// <summary>The table of a text.</summary>
    /// <exception cref="TableException">The text is no table.</exception>
    public CountTable Read(string text, TableReading reading) => GetOrRead((text, reading), () => CountTable.Read(text, reading));
}
