using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Lines;

/// <summary>
/// What a compartment that starts with the rest of a total is the rest of: all compartments of its module, and of the modules inside that
/// have no rest of their own. Outside modules it is the rest of all that no module counts by itself.
/// </summary>
internal sealed class RestScopes
{
    /// <summary>The modules that have a compartment with the rest of a total themselves; the study itself under the empty name.</summary>
    private readonly HashSet<string> _homes;

    /// <summary>The scopes of a study as it stands.</summary>
    public RestScopes(StudyDocument document) =>
        _homes = [.. document.Compartments.Where(part => StartLine.Read(part.Start).TheRest).Select(part => ModuleName.Of(part.Symbol))];

    /// <summary>The module whose total a compartment counts in, the study itself under the empty name; null where it counts in
    /// none.</summary>
    public string? Of(string symbol)
    {
        for (var module = ModuleName.Of(symbol); ; module = ModuleName.Of(module))
        {
            if (_homes.Contains(module))
                return module;
            if (module.Length == 0)
                return null;
        }
    }
}
