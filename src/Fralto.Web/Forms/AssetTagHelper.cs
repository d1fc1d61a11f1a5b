using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Fralto.Web.Forms;

/// <summary>Gives styles and scripts the address of their version.</summary>
[HtmlTargetElement("script", Attributes = "[src^='/']")]
[HtmlTargetElement("link", Attributes = "[rel=stylesheet]")]
public sealed class AssetTagHelper(Assets assets) : TagHelper
{
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var name = output.TagName == "script" ? "src" : "href";
        if (output.Attributes[name]?.Value?.ToString() is { } address && address.StartsWith('/'))
            output.Attributes.SetAttribute(name, assets.Prefix + address);
    }
}
