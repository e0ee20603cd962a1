using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Modules;

/// <summary>Compartments that start with the rest of a total, as parts go into modules and out of them: the amounts stay what they
/// are.</summary>
internal static class ModuleRests
{
    /// <summary>The document as it has to be before these compartments become a module: the rest of a total that counted others too takes
    /// them off in words.</summary>
    public static StudyDocument Closed(StudyDocument document, IReadOnlySet<string> inside)
    {
        var scopes = new RestScopes(document);
        foreach (var part in document.Compartments.Where(part => inside.Contains(part.Id) && StartLine.Read(part.Start).TheRest))
        {
            var others = document.Compartments.Where(other =>
                !inside.Contains(other.Id) && scopes.Of(other.Symbol) == ModuleName.Of(part.Symbol)
            );
            document = document.With(part with { Start = Less(part.Start, others) });
        }
        return document;
    }

    /// <summary>The document as it has to be before a module is taken apart: the rest of its own total is spelled out, so that it is not
    /// mistaken for that of what lies outside.</summary>
    public static StudyDocument Spelled(StudyDocument document, string module)
    {
        var scopes = new RestScopes(document);
        if (
            document.Compartments.FirstOrDefault(part => ModuleName.Of(part.Symbol) == module && StartLine.Read(part.Start).TheRest)
            is not { } rest
        )
            return document;
        var others = document.Compartments.Where(other => other.Id != rest.Id && scopes.Of(other.Symbol) == module);
        // Where nothing lies outside, it goes on to be the rest of the same.
        return document.Compartments.All(part => ModuleParts.Is(module, part.Symbol))
            ? document
            : document.With(rest with { Start = Less(rest.Start.TrimStart()["the rest of ".Length..], others) });
    }

    private static string Less(string start, IEnumerable<Compartment> others) =>
        string.Concat([
            start,
            .. others.Select(other => other.Start.Trim()).Where(text => text.Length > 0 && text != "0").Select(text => $" - ({text})"),
        ]);
}
