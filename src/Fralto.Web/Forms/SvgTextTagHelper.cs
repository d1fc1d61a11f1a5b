using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Fralto.Web.Forms;

/// <summary>The SVG element text, whose own name means something else in Razor.</summary>
[HtmlTargetElement("svg-text")]
public sealed class SvgTextTagHelper : TagHelper
{
    public override void Process(TagHelperContext context, TagHelperOutput output) => output.TagName = "text";
}
