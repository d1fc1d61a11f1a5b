using System.Security.Cryptography;

namespace Fralto.Web;

/// <summary>Styles, scripts and fonts under an address that names what is in them: a browser asks for them once, and for others after a
/// change. Scripts that import each other, and styles that name fonts, do so beside themselves and so keep the version.</summary>
public sealed class Assets(IWebHostEnvironment environment)
{
    private const string Root = "/v/";

    /// <summary>How the address of a version begins: /v/ and what names it.</summary>
    public string Prefix { get; } = Root + VersionOf(environment.WebRootPath);

    /// <summary>Serves what is asked for under a version as what it is, to be kept for good when the version is that of now.</summary>
    public Task ServeAsync(HttpContext context, RequestDelegate next)
    {
        if (context.Request.Path.Value is not { } path || !path.StartsWith(Root, StringComparison.Ordinal))
            return next(context);
        var end = path.IndexOf('/', Root.Length);
        if (end < 0)
            return next(context);
        // A page of before a restart may still ask for what it knew: it gets what there is, and does not keep it.
        var isNow = path.AsSpan(0, end).SequenceEqual(Prefix);
        context.Request.Path = path[end..];
        context.Response.OnStarting(() =>
        {
            if (context.Response.StatusCode is StatusCodes.Status200OK or StatusCodes.Status304NotModified)
                context.Response.Headers.CacheControl = isNow ? "public, max-age=31536000, immutable" : "no-cache";
            return Task.CompletedTask;
        });
        return next(context);
    }

    private static string VersionOf(string root)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        foreach (var file in Directory.EnumerateFiles(root, "*", SearchOption.AllDirectories).Order(StringComparer.Ordinal))
        {
            hash.AppendData(System.Text.Encoding.UTF8.GetBytes(Path.GetRelativePath(root, file)));
            hash.AppendData(File.ReadAllBytes(file));
        }
        return Convert.ToHexStringLower(hash.GetHashAndReset().AsSpan(0, 8));
    }
}
