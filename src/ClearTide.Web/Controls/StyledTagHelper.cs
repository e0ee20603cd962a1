using Microsoft.AspNetCore.Razor.TagHelpers;

namespace ClearTide.Web.Controls;

/// <summary>
/// What repeats on the screens: one element with its classes. A page writes what a thing is, and only here stands how it is made; classes
/// given on the page come behind its own, and other attributes stay as they are.
/// </summary>
/// <param name="element">The element of HTML that it becomes.</param>
/// <param name="classes">Its classes, separated by blanks.</param>
public abstract class StyledTagHelper(string element, string classes) : TagHelper
{
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.TagName = element;
        output.TagMode = TagMode.StartTagAndEndTag;
        AddClasses(output, classes);
    }

    /// <summary>Puts classes before those that the page gives.</summary>
    protected static void AddClasses(TagHelperOutput output, string own)
    {
        var given = output.Attributes["class"]?.Value?.ToString();
        output.Attributes.SetAttribute("class", string.IsNullOrEmpty(given) ? own : $"{own} {given}");
    }
}
