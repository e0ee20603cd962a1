using System.Text;

namespace ClearTide.Formats.Tables;

/// <summary>A file that holds a table, as text: delimited text in the encodings that spreadsheets write, or a workbook.</summary>
public static class TableText
{
    /// <exception cref="TableException">It is a workbook that cannot be read.</exception>
    public static string Read(byte[] file) => TableSheet.Is(file) ? TableSheet.Read(new MemoryStream(file), null).Text : Decode(file);

    /// <summary>By its byte order mark, else as UTF-8, else as what older spreadsheets write.</summary>
    private static string Decode(byte[] bytes)
    {
        if (bytes is [0xFF, 0xFE, ..] or [0xFE, 0xFF, ..])
            return new StreamReader(new MemoryStream(bytes), Encoding.Unicode, detectEncodingFromByteOrderMarks: true).ReadToEnd();
        try
        {
            return new UTF8Encoding(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true).GetString(bytes).TrimStart('\uFEFF');
        }
        catch (DecoderFallbackException)
        {
            return Encoding.Latin1.GetString(bytes);
        }
    }
}
