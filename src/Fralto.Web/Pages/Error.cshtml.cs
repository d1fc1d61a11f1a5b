using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>What went wrong with a request, without its inner workings.</summary>
[IgnoreAntiforgeryToken]
public sealed class ErrorModel : FraltoPage
{
    public string Heading { get; private set; } = "";

    public string Advice { get; private set; } = "";

    public void OnGet(int? code) => Say(code);

    public void OnPost(int? code) => Say(code);

    private void Say(int? code) => (Heading, Advice) = (code ?? Response.StatusCode) switch
    {
        404 => ("Not found", "There is nothing at this address. What you look for may have been taken out of the model."),
        400 => ("Refused", "The request was not complete, or the page was open for too long. Go back, reload the page and try again."),
        413 => ("Too large", "The request is larger than 1 MB."),
        >= 500 or 200 => ("Something failed", "The request was not carried out and nothing was changed by half. The log of Fralto says more."),
        var other => ($"Refused ({other})", "Fralto did not carry the request out."),
    };
}
