using Fralto.Web.Api;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>What went wrong with a request, without its inner workings.</summary>
[IgnoreAntiforgeryToken]
public sealed class ErrorModel : FraltoPage
{
    private const long DefaultLimit = 1024 * 1024;

    public string Heading { get; private set; } = "";

    public string Advice { get; private set; } = "";

    public void OnGet(int? code) => Say(code);

    public void OnPost(int? code) => Say(code);

    private void Say(int? code) =>
        (Heading, Advice) = (code ?? Response.StatusCode) switch
        {
            404 => ("Not found", "There is nothing at this address. What you look for may have been taken out of the model."),
            403 => ("Refused", "A page of somewhere else may not have anything done here."),
            400 => ("Refused", "The request was not complete, or the page was open for too long. Go back, reload the page and try again."),
            413 => (
                "Too large",
                $"What was sent is larger than {(ApiErrors.LimitOf(HttpContext) ?? DefaultLimit) / (1024 * 1024)} MB, the most that "
                    + $"is taken here. Nothing was changed. Part it into several."
            ),
            415 => ("Not understood", "What was sent is in a form or a character set that Fralto does not know; UTF-8 is expected."),
            >= 500 or 200 => (
                "Something failed",
                "The request was not carried out and nothing was changed by half. The log of Fralto says more."
            ),
            var other => ($"Refused ({other})", "Fralto did not carry the request out."),
        };
}
