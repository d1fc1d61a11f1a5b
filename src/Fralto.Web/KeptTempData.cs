using Microsoft.AspNetCore.Mvc.ViewFeatures;

namespace Fralto.Web;

/// <summary>What was done just now, kept in a cookie for the next whole page. A piece of a page that is fetched meanwhile neither takes nor
/// writes it: its answer may arrive after that of the form, and what it knew is older.</summary>
internal sealed class KeptTempData(CookieTempDataProvider cookie) : ITempDataProvider
{
    public IDictionary<string, object> LoadTempData(HttpContext context) => cookie.LoadTempData(context);

    public void SaveTempData(HttpContext context, IDictionary<string, object> values)
    {
        var request = context.Request;
        if (request.Headers.ContainsKey("HX-Request") || HttpMethods.IsGet(request.Method) && request.Query.ContainsKey("handler"))
            return;
        cookie.SaveTempData(context, values);
    }
}
