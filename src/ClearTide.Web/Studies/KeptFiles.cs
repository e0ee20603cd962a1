using System.Security.Cryptography;
using ClearTide.Formats.Tables;
using ClearTide.Storage;

namespace ClearTide.Web.Studies;

/// <summary>Files that were brought a moment ago: they can be read in another way, and are stored as they came.</summary>
public sealed class KeptFiles() : SizedCache<string, byte[]>(MostBytes, file => file.Length)
{
    /// <summary>Bytes of all that are kept.</summary>
    private const long MostBytes = 60_000_000;

    /// <summary>Keeps a file under a name that nobody can guess.</summary>
    public string Keep(byte[] file)
    {
        var key = RandomNumberGenerator.GetHexString(32, lowercase: true);
        Keep(key, file);
        return key;
    }

    /// <summary>A file that was kept.</summary>
    /// <exception cref="TableException">It is not kept any more.</exception>
    public byte[] Read(string key) =>
        Find(key) ?? throw new TableException("The file is not at hand any more. Choose it again to read it in another way.");
}
