using System.Globalization;
using System.Text;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Formats.Sbml;

/// <summary>Gives out ids as SBML allows them: ASCII letters, digits and underscores, each once.</summary>
internal sealed class SbmlIds
{
    private readonly HashSet<string> _taken = [];
    private readonly Dictionary<string, string> _parts = [];
    private static readonly Dictionary<string, string> Greek = Symbols.Greek.ToDictionary(pair => pair.Value, pair => pair.Key);

    public void Take(string id) => _taken.Add(id);

    /// <summary>The id of a part: the one it came with, or its symbol.</summary>
    public string For(ISymbolPart part) =>
        _parts.TryGetValue(part.Id, out var id)
            ? id
            : _parts[part.Id] = Free(part.FileId.Length > 0 ? part.FileId : part.Symbol.TrimEnd(']'));

    /// <summary>An id like the one that is wanted, which nothing else has.</summary>
    public string Free(string wanted)
    {
        var plain = Plain(wanted);
        var id = plain;
        for (var twin = 2; !_taken.Add(id); twin++)
            id = $"{plain}_{twin}";
        // What is called t in the file must not be taken for time.
        return SbmlText.Alias(id);
    }

    private static string Plain(string text)
    {
        var id = new StringBuilder();
        foreach (var sign in Symbols.Normalize(text))
        {
            if (char.IsAsciiLetterOrDigit(sign) || sign == '_')
                id.Append(sign);
            else if (Greek.TryGetValue(sign.ToString(), out var name))
                id.Append(name);
            else if (char.IsLetter(sign))
                id.Append(CultureInfo.InvariantCulture, $"u{(int)sign:x4}");
            else
                id.Append('_');
        }
        if (id.Length == 0 || char.IsAsciiDigit(id[0]))
            id.Insert(0, '_');
        return id.ToString();
    }
}
