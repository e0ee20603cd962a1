using System.Text.Encodings.Web;
using ClearTide.Core.Simulation;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace ClearTide.Web.Fields;

/// <summary>One element with attributes and children, everything encoded.</summary>
public sealed class Element(string name) : IHtmlContent
{
    public TagHelperAttributeList Attributes { get; } = [];

    public List<Element> Children { get; } = [];

    public string? Text { get; init; }

    public void WriteTo(TextWriter writer, HtmlEncoder encoder)
    {
        writer.Write($"<{name}");
        foreach (var attribute in Attributes)
            writer.Write($" {attribute.Name}=\"{encoder.Encode(attribute.Value?.ToString() ?? "")}\"");
        writer.Write('>');
        if (name == "input")
            return;
        if (Text is not null)
            writer.Write(encoder.Encode(Text));
        foreach (var child in Children)
            child.WriteTo(writer, encoder);
        writer.Write($"</{name}>");
    }
}
