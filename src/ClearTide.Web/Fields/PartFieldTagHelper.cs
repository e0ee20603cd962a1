using System.Text.Json;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace ClearTide.Web.Fields;

/// <summary>What all inputs of a part's field share: which part and field they set, and that they post when they change.</summary>
public abstract class FieldTagHelper : TagHelper
{
    /// <summary>Id of the part.</summary>
    public string Part { get; set; } = "";

    public PartField Field { get; set; }

    /// <summary>Which of several fields of the kind.</summary>
    public int At { get; set; }

    /// <summary>What stands before the input.</summary>
    public string Label { get; set; } = "";

    /// <summary>Help that stands where it is needed, on hovering and for assistive tools.</summary>
    public string? Help { get; set; }

    protected string Id => At == 0 ? $"field-{Part}-{Field}" : $"field-{Part}-{Field}-{At}";

    protected void AddPosting(TagHelperAttributeList attributes)
    {
        attributes.SetAttribute("id", Id);
        attributes.SetAttribute("name", "value");
        attributes.SetAttribute("hx-post", "?handler=Field");
        attributes.SetAttribute("hx-trigger", "change");
        attributes.SetAttribute(
            "hx-vals",
            JsonSerializer.Serialize(
                new
                {
                    partId = Part,
                    field = Field.ToString(),
                    at = At.ToString(System.Globalization.CultureInfo.InvariantCulture),
                }
            )
        );
    }

    /// <summary>Writes the label with the input inside it.</summary>
    protected void Write(TagHelperOutput output, Element input)
    {
        output.TagName = "label";
        output.TagMode = TagMode.StartTagAndEndTag;
        if (Help is not null)
            output.Attributes.SetAttribute("title", Help);
        output.Content.SetContent(Label.Length > 0 ? Label + " " : "");
        output.Content.AppendHtml(input);
    }
}

/// <summary><c>&lt;part-text part="..." field="Rate" label="rate" value="..." formula="true"&gt;</c>: a line of text, or a formula that
/// completes its names.</summary>
[HtmlTargetElement("part-text", TagStructure = TagStructure.WithoutEndTag)]
public sealed class PartTextTagHelper : FieldTagHelper
{
    public string? Value { get; set; }

    /// <summary>Whether it is typed mathematics.</summary>
    public bool Formula { get; set; }

    /// <summary>Whether it is the field that opens with the line.</summary>
    public bool Main { get; set; }

    public string? Placeholder { get; set; }

    public string? Size { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var input = new Element("input");
        input.Attributes.SetAttribute("value", Value ?? "");
        var classes = string.Join(
            ' ',
            new[] { Formula ? "mono formula" : "", Main ? "main-field" : "", Size ?? "" }.Where(name => name.Length > 0)
        );
        if (classes.Length > 0)
            input.Attributes.SetAttribute("class", classes);
        if (Placeholder is not null)
            input.Attributes.SetAttribute("placeholder", Placeholder);
        if (Formula)
            input.Attributes.SetAttribute("spellcheck", "false");
        input.Attributes.SetAttribute("autocomplete", "off");
        if (Label.Length == 0 && Help is not null)
            input.Attributes.SetAttribute("aria-label", Help);
        AddPosting(input.Attributes);
        Write(output, input);
    }
}

/// <summary><c>&lt;part-switch part="..." field="Limited" label="limited" on="true"&gt;</c>: a switch.</summary>
[HtmlTargetElement("part-switch", TagStructure = TagStructure.WithoutEndTag)]
public sealed class PartSwitchTagHelper : FieldTagHelper
{
    public bool On { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var input = new Element("input");
        input.Attributes.SetAttribute("type", "checkbox");
        input.Attributes.SetAttribute("value", On ? "false" : "true");
        if (On)
            input.Attributes.SetAttribute("checked", "checked");
        AddPosting(input.Attributes);
        // The box that is unticked is not sent by itself: what it would become is.
        input.Attributes.RemoveAll("name");
        input.Attributes.SetAttribute(
            "hx-vals",
            JsonSerializer.Serialize(
                new
                {
                    partId = Part,
                    field = Field.ToString(),
                    value = On ? "false" : "true",
                }
            )
        );
        output.TagName = "label";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "switch");
        if (Help is not null)
            output.Attributes.SetAttribute("title", Help);
        output.Content.AppendHtml(input);
        output.Content.Append(" " + Label);
    }
}

/// <summary><c>&lt;part-choice part="..." field="After" label="then" value="Hold" options="..."&gt;</c>: one of a few.</summary>
[HtmlTargetElement("part-choice", TagStructure = TagStructure.WithoutEndTag)]
public sealed class PartChoiceTagHelper : FieldTagHelper
{
    public string Value { get; set; } = "";

    /// <summary>Value and words of each choice.</summary>
    public IReadOnlyList<(string Value, string Words)> Options { get; set; } = [];

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var select = new Element("select");
        AddPosting(select.Attributes);
        if (Label.Length == 0 && Help is not null)
            select.Attributes.SetAttribute("aria-label", Help);
        foreach (var (value, words) in Options)
        {
            var option = new Element("option") { Text = words };
            option.Attributes.SetAttribute("value", value);
            if (value == Value)
                option.Attributes.SetAttribute("selected", "selected");
            select.Children.Add(option);
        }
        Write(output, select);
    }
}

/// <summary>
/// <c>&lt;part-radios part="..." field="RateKind" label="given" value="PerHead" options="..."&gt;</c>: one of a few that are all
/// seen.
/// </summary>
[HtmlTargetElement("part-radios", TagStructure = TagStructure.WithoutEndTag)]
public sealed class PartRadiosTagHelper : FieldTagHelper
{
    public string Value { get; set; } = "";

    /// <summary>Value and words of each choice.</summary>
    public IReadOnlyList<(string Value, string Words)> Options { get; set; } = [];

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.TagName = "div";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "radios");
        output.Attributes.SetAttribute("role", "radiogroup");
        output.Attributes.SetAttribute("aria-label", Label);
        if (Help is not null)
            output.Attributes.SetAttribute("title", Help);
        foreach (var (value, words) in Options)
        {
            var input = new Element("input");
            AddPosting(input.Attributes);
            input.Attributes.SetAttribute("id", $"{Id}-{value}");
            input.Attributes.SetAttribute("type", "radio");
            input.Attributes.SetAttribute("value", value);
            if (value == Value)
                input.Attributes.SetAttribute("checked", "checked");
            var label = new Element("label");
            label.Children.Add(input);
            label.Children.Add(new("span") { Text = words });
            output.Content.AppendHtml(label);
        }
    }
}
