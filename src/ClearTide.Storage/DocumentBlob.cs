using System.IO.Compression;
using System.Text;
using ClearTide.Core.Model;
using ClearTide.Formats.Studies;
using ZstdSharp;

namespace ClearTide.Storage;

/// <summary>
/// A document as a revision stores it: its JSON, compressed. Most revisions are compressed with the text of an earlier one as dictionary,
/// so that
/// they hold little more than what was changed since.
/// </summary>
internal static class DocumentBlob
{
    private const int Level = 6;

    /// <summary>A revision that takes more than this becomes the dictionary of those after it; rows of this size still lie side by side
    /// in a page.</summary>
    public const int LargestDelta = 700;

    /// <summary>What the frames of the present format begin with (RFC 8878, section 3.1.1).</summary>
    private static ReadOnlySpan<byte> Magic => [0x28, 0xB5, 0x2F, 0xFD];

    public static byte[] Text(StudyDocument document) => Encoding.UTF8.GetBytes(StudyFile.WriteDocument(document));

    /// <param name="dictionary">The text of the revision it builds on, or null.</param>
    public static byte[] Pack(byte[] text, byte[]? dictionary)
    {
        using var compressor = new Compressor(Level);
        if (dictionary is not null)
            compressor.LoadDictionary(dictionary);
        return compressor.Wrap(text).ToArray();
    }

    public static byte[] Unpack(byte[] blob, byte[]? dictionary)
    {
        if (!blob.AsSpan().StartsWith(Magic))
            return Older(blob);
        using var decompressor = new Decompressor();
        if (dictionary is not null)
            decompressor.LoadDictionary(dictionary);
        return decompressor.Unwrap(blob, StudyFile.LongestFile * 2).ToArray();
    }

    public static StudyDocument Read(byte[] text) => StudyFile.ReadDocument(Encoding.UTF8.GetString(text));

    /// <summary>Revisions of the first format, each compressed by itself.</summary>
    private static byte[] Older(byte[] blob)
    {
        using var brotli = new BrotliStream(new MemoryStream(blob), CompressionMode.Decompress);
        using var text = new MemoryStream();
        brotli.CopyTo(text);
        return text.ToArray();
    }
}
