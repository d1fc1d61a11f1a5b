using System.Globalization;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Html;

namespace Fralto.Web.Listings;

/// <summary>Pieces of cells that are more than text. What is put in is encoded.</summary>
internal static class Html
{
    /// <summary>A link of what can be done.</summary>
    /// <param name="href">Where it leads.</param>
    /// <param name="words">What stands there.</param>
    /// <param name="label">What it is called when it is read out.</param>
    public static IHtmlContent Act(string href, string words, string label) =>
        Of($"<a class=\"act\" href=\"{href}\" aria-label=\"{label}\">{words}</a> ");

    /// <summary>A text of markup whose holes are encoded.</summary>
    /// <param name="markup">The markup.</param>
    public static IHtmlContent Of(FormattableString markup) =>
        new HtmlString(
            string.Format(
                CultureInfo.InvariantCulture,
                markup.Format,
                [
                    .. markup
                        .GetArguments()
                        .Select(a => (object)HtmlEncoder.Default.Encode(Convert.ToString(a, CultureInfo.InvariantCulture) ?? "")),
                ]
            )
        );

    /// <summary>Several pieces one after the other.</summary>
    /// <param name="pieces">The pieces.</param>
    public static IHtmlContent Of(IEnumerable<IHtmlContent> pieces)
    {
        var all = new HtmlContentBuilder();
        foreach (var piece in pieces)
            all.AppendHtml(piece);
        return all;
    }
}
