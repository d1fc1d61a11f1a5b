using System.Globalization;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Fralto.Web.Forms;

/// <summary>How much of a whole is done, as a small bar with its figures in words.</summary>
[HtmlTargetElement("gauge", TagStructure = TagStructure.NormalOrSelfClosing)]
public sealed class GaugeTagHelper : TagHelper
{
    private const double Width = 46;

    public int Done { get; set; }

    public int All { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var part = All == 0 ? 0 : Width * Done / All;
        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", Done < All ? "gauge part" : "gauge");
        output.Attributes.SetAttribute("viewBox", $"0 0 {Width.ToString(CultureInfo.InvariantCulture)} 6");
        output.Attributes.SetAttribute("role", "img");
        output.Attributes.SetAttribute("aria-label", $"{Done} of {All} bound");
        output.Content.SetHtmlContent(
            $"<title>{Done} of {All} bound</title><rect class=\"all\" width=\"46\" height=\"6\" rx=\"3\"/><rect class=\"done\" "
                + $"width=\"{part.ToString("0.#", CultureInfo.InvariantCulture)}\" height=\"6\" rx=\"3\"/>"
        );
    }
}
