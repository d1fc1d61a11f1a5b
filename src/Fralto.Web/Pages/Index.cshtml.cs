using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>Where a visit begins: the plant, or the first step while there is none.</summary>
public sealed class IndexModel : FraltoPage
{
    public IActionResult OnGet() => Redirect(Model.Equipment.IsEmpty ? "/controllers" : "/plant");
}
