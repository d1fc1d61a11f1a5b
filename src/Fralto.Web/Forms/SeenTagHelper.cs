using System.Globalization;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Fralto.Web.Forms;

/// <summary>Every form that posts says which edit was the newest when it was shown, so that nobody writes over what he has not
/// seen.</summary>
[HtmlTargetElement("form", Attributes = "method")]
public sealed class SeenTagHelper(ModelWorkspace workspace) : TagHelper
{
    /// <summary>Name of the hidden field.</summary>
    public const string Field = "__seen";

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        if (string.Equals(output.Attributes["method"]?.Value?.ToString(), "post", StringComparison.OrdinalIgnoreCase))
            output.PostContent.AppendHtml(
                $"<input type=\"hidden\" name=\"{Field}\" value=\"{workspace.Head.ToString(CultureInfo.InvariantCulture)}\" />"
            );
    }
}
