using System.Globalization;
using Fralto.Core.Edits;
using Microsoft.Net.Http.Headers;

namespace Fralto.Web.Api;

/// <summary>What a program has seen before it edits: ETag says how far the journal was, If-Match gives that back (RFC 9110, sections 8.8.3
/// and 13.1.1).</summary>
internal static class Seen
{
    /// <summary>Says how far the journal is.</summary>
    public static void Tell(HttpContext context, long head) =>
        context.Response.Headers.ETag = string.Create(CultureInfo.InvariantCulture, $"\"{head}\"");

    /// <summary>Reads how far it was when the program looked; null when it does not say.</summary>
    /// <param name="request">The request.</param>
    /// <param name="problem">Why it cannot be read; null when it can.</param>
    public static long? Read(HttpRequest request, out IResult? problem)
    {
        problem = null;
        var text = request.Headers.IfMatch.ToString();
        if (text.Length == 0 || text == "*")
            return null;
        if (
            EntityTagHeaderValue.TryParse(text, out var tag)
            && !tag.IsWeak
            && long.TryParse(tag.Tag.AsSpan().Trim('"'), NumberStyles.None, CultureInfo.InvariantCulture, out var seen)
        )
            return seen;
        problem = Results.Problem(
            $"If-Match is {text}; it is what ETag said when you looked, for example \"17\".",
            statusCode: StatusCodes.Status400BadRequest
        );
        return null;
    }

    /// <summary>The answer to an edit that would write over something changed since.</summary>
    public static IResult Overtaken(EditOutcome outcome) =>
        Results.Problem(outcome.Problems[0].Message, statusCode: StatusCodes.Status412PreconditionFailed);
}
