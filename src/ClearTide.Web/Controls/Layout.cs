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

/// <summary><c>&lt;page-header&gt;…&lt;/page-header&gt;</c>: the line at the top of every page: the way home, a title, what leads
/// elsewhere.</summary>
[HtmlTargetElement("page-header")]
public sealed class PageHeaderTagHelper() : StyledTagHelper("header", Classes)
{
    private const string Classes =
        "study-header h-44 flex-none flex items-center gap-14 px-16 border-b border-b-line bg-paper [&_.home]:text-tide [&_.home]:flex "
        + "[&_nav]:flex [&_nav]:h-full [&_nav]:ml-10 [&_nav_a]:flex [&_nav_a]:items-center [&_nav_a]:gap-7 [&_nav_a]:px-11 "
        + "[&_nav_a]:text-mute [&_nav_a]:no-underline [&_nav_a]:border-b-2 [&_nav_a]:border-transparent [&_nav_a:hover]:text-ink "
        + "[&_nav_a[aria-current]]:text-ink [&_nav_a[aria-current]]:border-tide [&_nav_a[aria-current]]:font-semibold";
}

/// <summary><c>&lt;page-title&gt;Settings&lt;/page-title&gt;</c>: the title in the header of a page.</summary>
[HtmlTargetElement("page-title")]
public sealed class PageTitleTagHelper()
    : StyledTagHelper("h1", "study-title text-lg font-bold whitespace-nowrap overflow-hidden text-ellipsis max-w-[26em]");
