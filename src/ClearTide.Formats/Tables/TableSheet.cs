using System.Globalization;
using System.IO.Compression;
using System.Text;
using ClearTide.Core.Language;
using MiniExcelLibs;

namespace ClearTide.Formats.Tables;

/// <summary>One sheet of a workbook, as text with tabs between cells: read on like any other table.</summary>
/// <param name="Names">All sheets of the workbook, in its order.</param>
/// <param name="Name">The one that was read.</param>
public sealed record TableSheet(IReadOnlyList<string> Names, string Name, string Text)
{
    /// <summary>Whether a file is a workbook: they are zip archives, which begin with these letters.</summary>
    public static bool Is(ReadOnlySpan<byte> start) =>
        start.Length >= 4 && start[0] == 'P' && start[1] == 'K' && start[2] == 3 && start[3] == 4;

    /// <summary>Bytes that the parts of a workbook may come to when they are unpacked.</summary>
    private const long LargestContent = 200_000_000;

    /// <param name="asked">The sheet to read; the first that holds anything where it is null or not there.</param>
    /// <exception cref="TableException">The file is no workbook, is too large, or holds nothing.</exception>
    public static TableSheet Read(Stream file, string? asked)
    {
        try
        {
            RefuseLarge(file);
            var names = file.GetSheetNames();
            foreach (var sheet in asked is not null && names.Contains(asked) ? [asked] : names)
            {
                var text = new StringBuilder();
                var rows = 0;
                foreach (IDictionary<string, object?> row in file.Query(useHeaderRow: false, sheetName: sheet))
                {
                    if (++rows > CountTable.MostRows + 100 || text.Length > CountTable.LongestText)
                        throw new TableException($"The sheet “{sheet}” has more than {CountTable.MostRows:N0} rows. Sum them up first.");
                    text.AppendJoin('\t', row.Values.Take(CountTable.MostColumns + 1).Select(Cell)).Append('\n');
                }
                if (text.ToString().Any(c => !char.IsWhiteSpace(c)))
                    return new(names, sheet, text.ToString());
                if (sheet == asked)
                    throw new TableException($"The sheet “{sheet}” holds nothing. Choose another one.");
            }
        }
        catch (Exception wrong) when (wrong is not TableException and not OutOfMemoryException)
        {
            throw new TableException("This workbook cannot be read. Save the sheet as CSV, or copy its cells and paste them here.");
        }
        throw new TableException("No sheet of this workbook holds anything.");
    }

    /// <summary>A small file can hold much: what its parts come to is looked at before any of them is unpacked.</summary>
    private static void RefuseLarge(Stream file)
    {
        using (var archive = new ZipArchive(file, ZipArchiveMode.Read, leaveOpen: true))
        {
            if (archive.Entries.Sum(entry => entry.Length) > LargestContent)
                throw new TableException(
                    $"This workbook holds more than {LargestContent / 1_000_000} MB. Copy the cells that are needed and paste them here."
                );
        }
        file.Position = 0;
    }

    private static string Cell(object? value) =>
        value switch
        {
            null => "",
            double number => TypedNumber.Exact(number),
            DateTime { TimeOfDay.Ticks: 0 } date => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            DateTime moment => moment.ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture),
            IFormattable other => other.ToString(null, CultureInfo.InvariantCulture),
            _ => value.ToString()!.Replace('\t', ' ').ReplaceLineEndings(" "),
        };
}
