using System.Globalization;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Fralto.Web.Forms;

/// <summary>The mark of an alarm priority: octagon, triangle, square or circle with its number inside.</summary>
[HtmlTargetElement("priority", TagStructure = TagStructure.NormalOrSelfClosing)]
public sealed class PriorityTagHelper : TagHelper
{
    /// <summary>1 to 4.</summary>
    public int Of { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var shape = Of switch
        {
            1 => "<polygon points=\"5.5,1 12.5,1 17,5.5 17,12.5 12.5,17 5.5,17 1,12.5 1,5.5\"/>",
            2 => "<polygon points=\"9,1 17.5,16.5 0.5,16.5\"/>",
            3 => "<rect x=\"2\" y=\"2\" width=\"14\" height=\"14\" rx=\"1.5\"/>",
            _ => "<circle cx=\"9\" cy=\"9\" r=\"7.5\"/>",
        };
        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", $"pri pri{Of.ToString(CultureInfo.InvariantCulture)}");
        output.Attributes.SetAttribute("viewBox", "0 0 18 18");
        output.Attributes.SetAttribute("role", "img");
        output.Attributes.SetAttribute("aria-label", $"priority {Of.ToString(CultureInfo.InvariantCulture)}");
        output.Content.SetHtmlContent(
            $"{shape}<text x=\"9\" y=\"{(Of == 2 ? "14.6" : "13")}\">{Of.ToString(CultureInfo.InvariantCulture)}</text>"
        );
    }
}
