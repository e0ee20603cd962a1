using System.Globalization;
using System.Xml.Linq;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <summary>Notes, and what Clear Tide keeps in annotations of its own, which other programs pass over.</summary>
internal static class SbmlAnnotations
{
    public static readonly XNamespace Own = "urn:clear-tide:sbml:1";

    private static readonly XNamespace Page = "http://www.w3.org/1999/xhtml";

    public const int LongestNote = 10_000;

    /// <summary>The words of an element's notes, a paragraph or other block a line.</summary>
    public static string Note(XElement part)
    {
        return Words(
            part.Elements().FirstOrDefault(child => child.Name.LocalName == "notes" && child.Name.Namespace == part.Name.Namespace)
        );
    }

    /// <summary>The words of a stretch of a page, a block a line.</summary>
    public static string Words(XElement? notes)
    {
        if (notes is null)
            return "";
        var blocks = notes
            .Descendants()
            .Where(element =>
                element.Name.LocalName is "p" or "li" or "h1" or "h2" or "h3" or "div" or "td" or "th"
                && !element.Elements().Any(inner => inner.Name.LocalName is "p" or "li" or "div" or "table" or "ul")
            )
            .ToList();
        var lines = (blocks.Count > 0 ? blocks : [notes])
            .Select(block => string.Join(' ', block.Value.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)))
            .Where(line => line.Length > 0);
        var text = string.Join('\n', lines);
        return text.Length <= LongestNote ? text : text[..LongestNote];
    }

    public static XElement? NoteElement(XNamespace sbml, string note, string element = "notes") =>
        note.Length == 0 ? null : new(sbml + element, note.Split('\n').Select(line => new XElement(Page + "p", line)));

    public static SbmlPlate? Plate(XElement part) =>
        Find(part, "part") is { } own && Number(own, "x") is { } x && Number(own, "y") is { } y
            ? new(x, y, (int)(Number(own, "colour") ?? 0))
            : null;

    public static string Symbol(XElement part) => (string?)Find(part, "part")?.Attribute("symbol") ?? "";

    /// <summary>Where its plate lies, and its symbol where that is not its id; null where there is nothing to say.</summary>
    public static XElement? PartElement(XNamespace sbml, SbmlPart part, string id) =>
        part.Plate is null && !IsSymbol(part, id)
            ? null
            : Annotation(
                sbml,
                new XElement(
                    Own + "part",
                    IsSymbol(part, id) ? new XAttribute("symbol", part.Symbol) : null,
                    part.Plate is not { } plate
                        ? null
                        : new object?[]
                        {
                            new XAttribute("x", plate.X),
                            new XAttribute("y", plate.Y),
                            plate.Colour == 0 ? null : new XAttribute("colour", plate.Colour),
                        }
                )
            );

    /// <summary>Whether a part has a symbol of its own besides its id; that of a member is none that a part can have.</summary>
    private static bool IsSymbol(SbmlPart part, string id) =>
        part.Symbol.Length > 0 && part.Symbol != id && !part.Symbol.Contains('[', StringComparison.Ordinal);

    public static string UnitText(XElement definition) => (string?)Find(definition, "unit")?.Attribute("text") ?? "";

    public static XElement? UnitElement(XNamespace sbml, string text) =>
        text.Length == 0 ? null : Annotation(sbml, new XElement(Own + "unit", new XAttribute("text", text)));

    /// <summary>The study that a model was written out from, and the model's digest then.</summary>
    public static (string Study, string Digest) Groups(XElement model) =>
        Find(model, "groups") is { } own ? (own.Value, (string?)own.Attribute("digest") ?? "") : ("", "");

    public static XElement? GroupsElement(XNamespace sbml, string study, string digest) =>
        study.Length == 0 ? null : Annotation(sbml, new XElement(Own + "groups", new XAttribute("digest", digest), study));

    private static XElement Annotation(XNamespace sbml, XElement content)
    {
        content.Add(new XAttribute(XNamespace.Xmlns + "tide", Own.NamespaceName));
        return new(sbml + "annotation", content);
    }

    private static XElement? Find(XElement part, string name) =>
        part.Elements().FirstOrDefault(child => child.Name.LocalName == "annotation")?.Element(Own + name);

    private static double? Number(XElement element, string attribute) =>
        double.TryParse((string?)element.Attribute(attribute), NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
        && Math.Abs(value) < 1e6
            ? value
            : null;
}
