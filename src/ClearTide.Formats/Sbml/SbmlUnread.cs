using System.Xml.Linq;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <summary>
/// Says what of a file no part of a study holds, so that nothing is lost in silence: every element and attribute of SBML core that is
/// not read, and what
/// is read but kept in another form. A run of the file itself needs none of it.
/// </summary>
internal static class SbmlUnread
{
    private const int MostNamed = 8;

    /// <summary>The attributes that are read, element by element; whatever else stands there is not.</summary>
    private static readonly Dictionary<string, string[]> Read = new()
    {
        ["model"] = ["id", "name", "timeUnits", "substanceUnits", "volumeUnits", "conversionFactor"],
        ["unitDefinition"] = ["id"],
        ["unit"] = ["kind", "exponent", "scale", "multiplier"],
        ["compartment"] = ["id", "name", "size", "volume", "spatialDimensions", "constant", "units"],
        ["species"] =
        [
            "id",
            "name",
            "compartment",
            "initialAmount",
            "initialConcentration",
            "hasOnlySubstanceUnits",
            "boundaryCondition",
            "constant",
            "conversionFactor",
            "substanceUnits",
        ],
        ["parameter"] = ["id", "name", "value", "units", "constant"],
        ["localParameter"] = ["id", "name", "value", "units"],
        ["initialAssignment"] = ["symbol"],
        ["assignmentRule"] = ["variable"],
        ["rateRule"] = ["variable"],
        ["algebraicRule"] = [],
        ["reaction"] = ["id", "name", "fast"],
        ["speciesReference"] = ["id", "species", "stoichiometry", "constant"],
        ["modifierSpeciesReference"] = [],
        ["kineticLaw"] = [],
        ["stoichiometryMath"] = [],
        ["event"] = ["name", "useValuesFromTriggerTime"],
        ["trigger"] = ["initialValue", "persistent"],
        ["delay"] = [],
        ["priority"] = [],
        ["eventAssignment"] = ["variable"],
        ["constraint"] = [],
        ["message"] = [],
        ["functionDefinition"] = ["id"],
    };

    /// <summary>What these say when nobody says it, so that nothing is lost with them.</summary>
    private static readonly HashSet<(string, string, string)> Usual = [("unit", "offset", "0")];

    public static IEnumerable<string> Of(XElement model)
    {
        var space = model.Name.Namespace;
        var all = model
            .DescendantsAndSelf()
            .Where(element =>
                element.Name.Namespace == space
                && !element.Ancestors().Any(above => above.Name.LocalName is "notes" or "annotation" or "message")
            )
            .ToList();
        if (Named(all.Where(element => element.Name.LocalName == "event" && element.Attribute("id") is not null)) is { } events)
            yield return $"The ids of events are not kept: {events}.";
        var modified = all.Where(element => element.Name.LocalName == "reaction" && element.Element(space + "listOfModifiers") is not null);
        if (Named(modified) is { } reactions)
            yield return "Which species act on a reaction without being moved follows from its rate; the lists of them are not "
                + $"kept: {reactions}.";
        if (
            Named(
                all.Where(element => element.Name.LocalName == "reaction" && (string?)element.Attribute("reversible") is "true" or "1")
            ) is
            { } reversible
        )
            yield return $"That a reaction is called reversible is not kept; its rate may be negative all the same: {reversible}.";
        if (Named(all.Where(element => element.Name.LocalName == "functionDefinition")) is { } functions)
            yield return $"Functions are written out where they are called, and not kept: {functions}.";
        if (
            Named(
                all.Where(element =>
                        element.Name.LocalName == "annotation"
                        && element.Elements().Any(child => child.Name.Namespace != SbmlAnnotations.Own)
                    )
                    .Select(element => element.Parent!)
            ) is
            { } annotated
        )
            yield return $"Annotations are not kept: {annotated}.";
        foreach (
            var unread in all.SelectMany(element =>
                    element
                        .Attributes()
                        .Where(attribute => IsUnread(element, attribute))
                        .Select(attribute => (attribute.Name.LocalName, element))
                )
                .GroupBy(pair => pair.LocalName)
                .OrderBy(group => group.Key, StringComparer.Ordinal)
        )
        {
            yield return $"“{unread.Key}” is not kept: {Named(unread.Select(pair => pair.element))}.";
        }
    }

    private static bool IsUnread(XElement element, XAttribute attribute)
    {
        var (kind, name) = (element.Name.LocalName, attribute.Name.LocalName);
        if (
            attribute.IsNamespaceDeclaration
            || attribute.Name.Namespace != XNamespace.None
            || Usual.Contains((kind, name, attribute.Value.Trim()))
        )
            return false;
        // These are told in sentences of their own.
        if (kind == "event" && name == "id" || kind == "reaction" && name == "reversible")
            return false;
        return name is "metaid" or "sboTerm" || Read.TryGetValue(kind, out var read) && !read.Contains(name);
    }

    /// <summary>The parts by their ids, or by what they are, some of them by name; null where there is none.</summary>
    private static string? Named(IEnumerable<XElement> parts)
    {
        var names = parts
            .Select(part =>
                (
                    (string?)part.Attribute("id")
                    ?? (string?)part.Attribute("variable")
                    ?? (string?)part.Attribute("symbol")
                    ?? (string?)part.Attribute("species")
                )?.Trim()
                    is { Length: > 0 } id
                    ? id
                : part.Name.LocalName == "model" ? "the model"
                : part.Name.LocalName
            )
            .Distinct()
            .ToList();
        return names.Count == 0
            ? null
            : string.Join(", ", names.Take(MostNamed)) + (names.Count > MostNamed ? $" and {names.Count - MostNamed} more" : "");
    }
}
