using System.IO.Compression;
using System.Text;
using ClearTide.Core.Models;
using ClearTide.Formats.Studies;

namespace ClearTide.Storage;

/// <summary>A document as a revision stores it: its JSON, compressed.</summary>
internal static class DocumentBlob
{
    public static byte[] Pack(StudyDocument document)
    {
        var text = Encoding.UTF8.GetBytes(StudyFile.WriteDocument(document));
        using var packed = new MemoryStream();
        using (var brotli = new BrotliStream(packed, CompressionLevel.Fastest)) brotli.Write(text);
        return packed.ToArray();
    }

    public static StudyDocument Unpack(byte[] blob)
    {
        using var brotli = new BrotliStream(new MemoryStream(blob), CompressionMode.Decompress);
        using var reader = new StreamReader(brotli, Encoding.UTF8);
        return StudyFile.ReadDocument(reader.ReadToEnd());
    }
}
