namespace ClearTide.Formats.Tables;

/// <summary>A file that holds a table, as text: delimited text in the encodings that spreadsheets write, or a workbook.</summary>
public static class TableText
{
    /// <exception cref="TableException">It is a workbook that cannot be read.</exception>
    public static string Read(byte[] file) =>
        TableSheet.Is(file) ? TableSheet.Read(new MemoryStream(file), null).Text : TextEncoding.Decode(file, null);
}
