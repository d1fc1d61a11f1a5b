using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Html;

namespace Fralto.Web.Forms;

/// <summary>A choice among many, written at once: of some thousand options each by a helper of its own a page would take longer than all
/// the rest of it.</summary>
internal static class ChoiceHtml
{
    /// <summary>A select whose options are ids with names.</summary>
    /// <param name="name">Name of the field.</param>
    /// <param name="label">What it is called for those who do not see it.</param>
    /// <param name="none">What is chosen when nothing is.</param>
    /// <param name="chosen">The id that is chosen; null for none.</param>
    /// <param name="options">Ids and names.</param>
    public static IHtmlContent Of(string name, string label, string none, long? chosen, IEnumerable<(long Id, string Name)> options)
    {
        var encode = HtmlEncoder.Default;
        var html = new StringBuilder(
            $"<select class=\"form-select form-select-sm narrow\" name=\"{encode.Encode(name)}\" "
                + $"aria-label=\"{encode.Encode(label)}\"><option value=\"\">{encode.Encode(none)}</option>"
        );
        foreach (var (id, text) in options)
            html.Append(
                CultureInfo.InvariantCulture,
                $"<option value=\"{id}\"{(id == chosen ? " selected" : "")}>{encode.Encode(text)}</option>"
            );
        return new HtmlString(html.Append("</select>").ToString());
    }
}
