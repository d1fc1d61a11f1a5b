using System.Net.Mime;
using System.Text;
using Fralto.Core.Exchange;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.Net.Http.Headers;

namespace Fralto.Web.Api;

/// <summary>What a request cannot be answered with is said in the form its sender reads: problem+json (RFC 9457) below /api, a page
/// elsewhere.</summary>
internal static class ApiErrors
{
    /// <summary>The most bytes that are read past, so that whoever sends too much hears why and is not cut off.</summary>
    private const long MostDrained = 1L << 30;

    private const string Limit = "fralto-limit";

    /// <summary>The largest request the address takes, in bytes, where one was refused for its size; null elsewhere.</summary>
    public static long? LimitOf(HttpContext context) => context.Items[Limit] as long?;

    /// <summary>Turns what goes wrong below /api into problems; what comes out of no endpoint too.</summary>
    public static async Task ProblemsAsync(HttpContext context, RequestDelegate next)
    {
        try
        {
            await next(context);
        }
        catch (BadHttpRequestException e) when (!context.Response.HasStarted)
        {
            context.Response.Clear();
            context.Response.StatusCode = e.StatusCode;
            await SayAsync(
                context,
                e.StatusCode == StatusCodes.Status400BadRequest
                    ? e.InnerException is System.Text.Json.JsonException json
                        ? $"The body is not what is expected here: {JsonTrouble.Words(json)}"
                        : e.Message
                    : null
            );
            return;
        }
        catch (Exception e) when (!context.Response.HasStarted && e is not OperationCanceledException)
        {
            context
                .RequestServices.GetRequiredService<ILoggerFactory>()
                .CreateLogger("Fralto")
                .LogError(e, "{Method} {Path} failed", context.Request.Method, context.Request.Path);
            context.Response.Clear();
            context.Response.StatusCode = StatusCodes.Status500InternalServerError;
        }
        if (context.Response is { HasStarted: false, StatusCode: >= 400, ContentType: null, ContentLength: null })
            await SayAsync(context, null);
    }

    /// <summary>Refuses, before anybody reads it, a body that is larger than its address takes or in a character set nobody
    /// knows.</summary>
    public static async Task BodiesAsync(HttpContext context, RequestDelegate next)
    {
        var request = context.Request;
        if (
            request.ContentType is { } type
            && MediaTypeHeaderValue.TryParse(type, out var media)
            && media.Charset.HasValue
            && !IsKnown(media.Charset.Value!.Trim('"'))
        )
        {
            context.Response.StatusCode = StatusCodes.Status415UnsupportedMediaType;
            return;
        }
        var size = context.Features.Get<IHttpMaxRequestBodySizeFeature>();
        var most = context.GetEndpoint()?.Metadata.GetMetadata<IRequestSizeLimitMetadata>()?.MaxRequestBodySize ?? size?.MaxRequestBodySize;
        if (most is { } limit && request.ContentLength > limit && size is { IsReadOnly: false })
        {
            context.Items[Limit] = limit;
            size.MaxRequestBodySize = MostDrained;
            if (request.ContentLength <= MostDrained)
                await request.Body.CopyToAsync(Stream.Null, context.RequestAborted);
            context.Response.StatusCode = StatusCodes.Status413PayloadTooLarge;
            return;
        }
        await next(context);
    }

    private static bool IsKnown(string charset)
    {
        try
        {
            return Encoding.GetEncoding(charset) is not null;
        }
        catch (ArgumentException)
        {
            return false;
        }
    }

    private static Task SayAsync(HttpContext context, string? detail)
    {
        var request = context.Request;
        detail ??= context.Response.StatusCode switch
        {
            StatusCodes.Status400BadRequest => "The request is not complete, or a value in its address is not of the kind expected there.",
            StatusCodes.Status403Forbidden => "A page of somewhere else may not have anything done here.",
            StatusCodes.Status404NotFound => $"There is nothing at {request.Path}; /api/v1/openapi.json lists what there is.",
            StatusCodes.Status405MethodNotAllowed =>
                $"{request.Path} does not take {request.Method}; it takes {context.Response.Headers.Allow}.",
            StatusCodes.Status413PayloadTooLarge => LimitOf(context) is { } limit
                ? $"The body has {request.ContentLength} bytes; {limit} are taken here."
                : "The body is too large.",
            StatusCodes.Status415UnsupportedMediaType =>
                $"The body is {request.ContentType ?? "of no type that is said"}; {MediaTypeNames.Application.Json} in UTF-8 is expected.",
            >= 500 => "The request was not carried out and nothing was changed by half. The log of Fralto says more.",
            _ => "Fralto did not carry the request out.",
        };
        return Results.Problem(detail, statusCode: context.Response.StatusCode).ExecuteAsync(context);
    }
}
