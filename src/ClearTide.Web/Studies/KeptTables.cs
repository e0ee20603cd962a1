using System.Security.Cryptography;
using System.Text;
using ClearTide.Formats.Tables;
using ClearTide.Storage;

namespace ClearTide.Web.Studies;

/// <summary>Long tables that were brought a moment ago: the page names them instead of sending megabytes to and fro.</summary>
public sealed class KeptTables() : SizedCache<string, string>(MostCharacters, text => text.Length)
{
    /// <summary>Characters of all that are kept.</summary>
    private const long MostCharacters = 60_000_000;

    /// <summary>Keeps a table under a name that nobody can guess who does not know it.</summary>
    public string Keep(string text)
    {
        var key = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));
        Keep(key, text);
        return key;
    }

    /// <summary>The text of a table that was kept.</summary>
    /// <exception cref="TableException">It is not kept any more.</exception>
    public string Read(string key) =>
        Find(key) ?? throw new TableException("The table is not at hand any more. Choose the file again, or paste its cells again.");
}
