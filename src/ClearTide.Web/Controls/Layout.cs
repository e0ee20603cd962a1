using ClearTide.Web.Fields;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace ClearTide.Web.Controls;

/// <summary><c>&lt;field-row&gt;…&lt;/field-row&gt;</c>: fields with their labels above them, side by side.</summary>
[HtmlTargetElement("field-row")]
public sealed class FieldRowTagHelper() : StyledTagHelper("div", "fields");

/// <summary><c>&lt;number-table&gt;…&lt;/number-table&gt;</c>: numbers in columns, right-aligned, words to the left.</summary>
[HtmlTargetElement("number-table")]
public sealed class NumberTableTagHelper() : StyledTagHelper("table", "numbers");

/// <summary><c>&lt;drop-menu words="Picture"&gt;&lt;form&gt;…&lt;/form&gt;&lt;/drop-menu&gt;</c>: a word that opens a sheet below it, a
/// list, a form or a few actions. Escape and a click elsewhere close it.</summary>
[HtmlTargetElement("drop-menu")]
public sealed class DropMenuTagHelper() : StyledTagHelper("details", Classes)
{
    private const string Classes =
        "tool-menu relative [&>summary]:list-none [&>summary]:cursor-pointer [&>summary]:py-2 [&>summary]:px-6 [&>summary]:text-mute "
        + "[&>:not(summary)]:absolute [&>:not(summary)]:z-4 [&>:not(summary)]:bg-sheet [&>:not(summary)]:border "
        + "[&>:not(summary)]:border-edge [&>:not(summary)]:rounded-4 [&>:not(summary)]:px-12 [&>:not(summary)]:py-8 "
        + "[&_label]:grid [&_label]:grid-cols-[1fr_auto] [&_label]:items-center [&_label]:text-mute";

    /// <summary>Where its sheet opens: <c>below</c>, <c>below-left</c> with the right edges in line, or <c>above</c>.</summary>
    public string Opens { get; set; } = "below";

    /// <summary>The word that opens it.</summary>
    public string Words { get; set; } = "";

    /// <summary>The word for assistive tools, where the one that is seen is no word.</summary>
    public string? Spoken { get; set; }

    /// <summary>What is in it, on hovering.</summary>
    public string? Hint { get; set; }

    public override async Task ProcessAsync(TagHelperContext context, TagHelperOutput output)
    {
        AddClasses(
            output,
            Opens switch
            {
                "above" => "[&>:not(summary)]:left-0 [&>:not(summary)]:bottom-24",
                "below-left" => "[&>:not(summary)]:right-0 [&>:not(summary)]:top-26",
                _ => "[&>:not(summary)]:left-0 [&>:not(summary)]:top-26",
            }
        );
        Process(context, output);
        var word = new Element("summary") { Text = Words };
        if (Spoken is not null)
            word.Attributes.SetAttribute("aria-label", Spoken);
        if (Hint is not null)
            word.Attributes.SetAttribute("title", Hint);
        var sheet = await output.GetChildContentAsync();
        output.Content.SetHtmlContent(word);
        output.Content.AppendHtml(sheet);
    }
}
