using System.Text.Json;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace ClearTide.Web.Fields;

/// <summary><c>&lt;input panel="@panel.Id" panel-field="minimum"&gt;</c>: sets one field of a panel of Explore when it changes.</summary>
[HtmlTargetElement("input", Attributes = "panel-field", TagStructure = TagStructure.WithoutEndTag)]
[HtmlTargetElement("select", Attributes = "panel-field")]
[HtmlTargetElement("textarea", Attributes = "panel-field")]
public sealed class PanelFieldTagHelper : TagHelper
{
    /// <summary>Id of the panel.</summary>
    public string Panel { get; set; } = "";

    /// <summary>The field, by its name in the file of the study.</summary>
    public string PanelField { get; set; } = "";

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.Attributes.SetAttribute("name", "value");
        output.Attributes.SetAttribute("hx-post", "?handler=Panel");
        output.Attributes.SetAttribute("hx-trigger", "change");
        output.Attributes.SetAttribute("hx-vals", JsonSerializer.Serialize(new { panel = Panel, field = PanelField }));
    }
}
