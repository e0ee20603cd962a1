using System.Security.Cryptography;
using ClearTide.Formats.Tables;
using ClearTide.Storage;

namespace ClearTide.Web.Studies;

/// <summary>Workbooks of several sheets that were brought a moment ago, so that another sheet can be chosen without the file.</summary>
public sealed class KeptWorkbooks() : SizedCache<string, byte[]>(MostBytes, file => file.Length)
{
    /// <summary>Bytes of all that are kept.</summary>
    private const long MostBytes = 60_000_000;

    /// <summary>Keeps a workbook under a name that nobody can guess.</summary>
    public string Keep(byte[] file)
    {
        var key = RandomNumberGenerator.GetHexString(32, lowercase: true);
        Keep(key, file);
        return key;
    }

    /// <summary>A sheet of a workbook that was kept.</summary>
    /// <exception cref="TableException">It is not kept any more, or the sheet cannot be read.</exception>
    public TableSheet Read(string key, string sheet) =>
        Find(key) is { } file
            ? TableSheet.Read(new MemoryStream(file), sheet)
            : throw new TableException("The workbook is not at hand any more. Choose the file again to read another of its sheets.");
}
