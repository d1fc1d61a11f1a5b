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
        output.TagName = null;
        output.Content.SetHtmlContent(Mark(Of));
    }

    /// <summary>The mark as markup.</summary>
    /// <param name="priority">1 to 4.</param>
    public static string Mark(int priority)
    {
        var shape = priority switch
        {
            1 => "<polygon points=\"5.5,1 12.5,1 17,5.5 17,12.5 12.5,17 5.5,17 1,12.5 1,5.5\"/>",
            2 => "<polygon points=\"9,1 17.5,16.5 0.5,16.5\"/>",
            3 => "<rect x=\"2\" y=\"2\" width=\"14\" height=\"14\" rx=\"1.5\"/>",
            _ => "<circle cx=\"9\" cy=\"9\" r=\"7.5\"/>",
        };
        var number = priority.ToString(CultureInfo.InvariantCulture);
        return $"<svg class=\"pri pri{number}\" viewBox=\"0 0 18 18\" role=\"img\" aria-label=\"priority {number}\">{shape}"
            + $"<text x=\"9\" y=\"{(priority == 2 ? "14.6" : "13")}\">{number}</text></svg>";
    }
}
