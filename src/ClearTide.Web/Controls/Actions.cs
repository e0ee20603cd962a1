using Microsoft.AspNetCore.Razor.TagHelpers;

namespace ClearTide.Web.Controls;

/// <summary><c>&lt;text-action hx-post="…"&gt;Remove&lt;/text-action&gt;</c>: a button that reads like a word of the line it stands
/// in; a link where it has an address.</summary>
[HtmlTargetElement("text-action")]
public sealed class TextActionTagHelper() : StyledTagHelper("button", "plain")
{
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        base.Process(context, output);
        if (output.Attributes.ContainsName("href"))
            output.TagName = "a";
    }
}

/// <summary><c>&lt;main-action&gt;Project&lt;/main-action&gt;</c>: the button that a view is there for; one in a view.</summary>
[HtmlTargetElement("main-action")]
public sealed class MainActionTagHelper() : StyledTagHelper("button", "primary");

/// <summary><c>&lt;sample-line&gt;S -> I at 0.2&lt;/sample-line&gt;</c>: an example that a click takes over.</summary>
[HtmlTargetElement("sample-line")]
public sealed class SampleLineTagHelper() : StyledTagHelper("button", "sample");

/// <summary><c>&lt;fix-action hx-post="…"&gt;Use it&lt;/fix-action&gt;</c>: what mends a finding, behind its sentence.</summary>
[HtmlTargetElement("fix-action")]
public sealed class FixActionTagHelper() : StyledTagHelper("button", "fix text-tide underline underline-offset-2 ml-6 cursor-pointer");
