using Microsoft.AspNetCore.Http.Features;

namespace Fralto.Web.Live;

/// <summary>Server-sent events for open pages.</summary>
internal static class LiveEndpoints
{
    public static void MapLive(this IEndpointRouteBuilder routes) => routes.MapGet("/live/events", ListenAsync).ExcludeFromDescription();

    private static async Task ListenAsync(HttpContext context, LiveFeed feed, IHostApplicationLifetime lifetime, string? scope)
    {
        if (LiveScope.Parse(scope) is not { } parsed)
        {
            context.Response.StatusCode = StatusCodes.Status400BadRequest;
            await context.Response.WriteAsync("A scope is header, place:ID, running:ID, template:ID or controller:ID.");
            return;
        }
        context.Response.ContentType = "text/event-stream";
        context.Response.Headers.CacheControl = "no-store";
        context.Features.Get<IHttpResponseBodyFeature>()?.DisableBuffering();
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(context.RequestAborted, lifetime.ApplicationStopping);
        try
        {
            await foreach (
                var payload in feed.ListenAsync(
                    parsed with
                    {
                        Look = UnitLook.Parse(context.Request.Cookies[UnitLook.Cookie]).Text,
                    },
                    stop.Token
                )
            )
            {
                await context.Response.WriteAsync($"data: {payload}\n\n", stop.Token);
                await context.Response.Body.FlushAsync(stop.Token);
            }
        }
        catch (OperationCanceledException)
        {
            // The window was closed, or Fralto stops.
        }
    }
}
