using Microsoft.AspNetCore.Razor.TagHelpers;

namespace ClearTide.Web.Controls;

/// <summary><c>&lt;a-notice&gt;…&lt;/a-notice&gt;</c>: why something that was asked for was not done, and what to do. Read out when it
/// comes.</summary>
[HtmlTargetElement("a-notice")]
public sealed class NoticeTagHelper() : StyledTagHelper("p", "notice border-l-3 border-l-coral bg-coral-soft py-6 px-10 my-6 mx-0")
{
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        base.Process(context, output);
        if (output.Attributes["role"] is null)
            output.Attributes.SetAttribute("role", "alert");
    }
}

/// <summary><c>&lt;a-finding note="true"&gt;…&lt;/a-finding&gt;</c>: what is wrong or doubtful with what is there; as a note where it
/// asks for nothing.</summary>
[HtmlTargetElement("a-finding")]
public sealed class FindingTagHelper()
    : StyledTagHelper("p", "finding border-l-3 mt-3 mx-14 mb-6 py-5 px-10 [&_.marked]:block [&_.marked]:wrap-anywhere")
{
    /// <summary>Whether it is only to be known.</summary>
    public bool Note { get; set; }

    /// <summary>Whether it begins where the text above begins.</summary>
    public bool Flush { get; set; }

    /// <summary>The element that it becomes, where it holds more than a sentence: <c>div</c>, or <c>details</c>.</summary>
    public string As { get; set; } = "p";

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        if (Flush)
            AddClasses(output, "mx-0!");
        AddClasses(output, Note ? "note border-l-edge text-mute" : "border-l-coral bg-coral-soft");
        base.Process(context, output);
        output.TagName = As;
    }
}

/// <summary><c>&lt;empty-state&gt;…&lt;/empty-state&gt;</c>: what will stand here, and how it comes.</summary>
[HtmlTargetElement("empty-state")]
public sealed class EmptyStateTagHelper() : StyledTagHelper("p", "empty text-mute max-w-[44em]");

/// <summary><c>&lt;job-progress value="@job.Progress" of="the fit"/&gt;</c>: how far a job is, from 0 to 1.</summary>
[HtmlTargetElement("job-progress", TagStructure = TagStructure.WithoutEndTag)]
public sealed class JobProgressTagHelper : TagHelper
{
    public double Value { get; set; }

    /// <summary>What is on its way, with its article.</summary>
    public string Of { get; set; } = "";

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.TagName = "progress";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("value", Value.ToString("R", System.Globalization.CultureInfo.InvariantCulture));
        output.Attributes.SetAttribute("max", "1");
        output.Attributes.SetAttribute("aria-label", $"Progress of {Of}");
    }
}
