using System.Text.Json;
using System.Text.Json.Nodes;
using Fralto.Core.Controllers;
using Fralto.Core.OpcUa;
using Fralto.Core.Quality;

namespace Fralto.Links.OpcUa;

/// <summary>What a link and a test of a connection ask the child for alike.</summary>
internal static class UaSession
{
    /// <summary>How long a server may take to let us in.</summary>
    public static readonly TimeSpan ConnectWithin = TimeSpan.FromSeconds(8);

    private static readonly TimeSpan Longer = TimeSpan.FromSeconds(30);

    private static readonly StatusCode ModeRejected = new(0x80540000);

    private static readonly StatusCode TokenInvalid = new(0x80200000);

    /// <summary>What servers answer who do not know the user: not allowed, token refused, token invalid.</summary>
    private static readonly StatusCode[] LetsNobodyIn = [StatusCode.BadUserAccessDenied, new(0x80210000), TokenInvalid];

    /// <summary>Asks a server what it offers, without any security and without a session.</summary>
    /// <exception cref="LinkException">It does not answer.</exception>
    public static async Task<UaOffer> LookAsync(
        UaChild child,
        OpcUaConnection connection,
        UaIdentity identity,
        TimeProvider clock,
        CancellationToken stop
    )
    {
        var said = await child.AskAsync("endpoints", Ask(connection, identity), Longer, stop);
        var ways = new Dictionary<UaSecurity, HashSet<UaLogin>>();
        var others = new SortedSet<string>(StringComparer.Ordinal);
        byte[]? certificate = null;
        var (application, uri) = ("", "");
        foreach (var endpoint in said.GetProperty("endpoints").EnumerateArray())
        {
            var (policy, mode) = (endpoint.GetProperty("policy").GetString()!, endpoint.GetProperty("mode").GetString()!);
            (application, uri) = (endpoint.GetProperty("application").GetString()!, endpoint.GetProperty("applicationUri").GetString()!);
            if (endpoint.GetProperty("certificate").GetString() is { } shown)
                certificate ??= Convert.FromBase64String(shown);
            var security = UaSecurity.All.FirstOrDefault(s => s.Policy == policy && s.Mode == mode);
            if (security is null)
            {
                others.Add($"{policy} {mode}");
                continue;
            }
            if (!ways.TryGetValue(security, out var logins))
                ways[security] = logins = [];
            foreach (var token in endpoint.GetProperty("tokens").EnumerateArray())
                switch (token.GetString())
                {
                    case "Anonymous":
                        logins.Add(UaLogin.Anonymous);
                        break;
                    case "UserName":
                        logins.Add(UaLogin.Password);
                        break;
                    case "Certificate":
                        logins.Add(UaLogin.Certificate);
                        break;
                }
        }
        return new UaOffer(
            application,
            [.. ways.OrderBy(w => w.Key.Rank).Select(w => (w.Key, (IReadOnlyList<UaLogin>)[.. w.Value.Order()]))],
            [.. others],
            certificate is null ? null : UaServerCertificate.Of(certificate, connection.Host, uri, identity, clock.GetUtcNow())
        );
    }

    /// <summary>Opens a session as a connection says, after looking at what the server offers and at its certificate.</summary>
    /// <returns>What the server offers.</returns>
    /// <exception cref="LinkException">It is not offered so, the certificate cannot be used or is not trusted, or the server
    /// refuses.</exception>
    public static async Task<UaOffer> OpenAsync(
        UaChild child,
        OpcUaConnection connection,
        string? password,
        UaIdentity identity,
        TimeProvider clock,
        CancellationToken stop
    )
    {
        var offer = await LookAsync(child, connection, identity, clock, stop);
        var security = connection.Security;
        if (offer.Ways.All(w => w.Security != security))
            throw new LinkException(
                ModeRejected,
                $"the server does not offer the security {security.Text}; it offers "
                    + $"{(offer.Ways.Count > 0 ? string.Join(", ", offer.Ways.Select(w => w.Security.Text)) : "none that Fralto speaks")}"
            );
        var logins = offer.Ways.First(w => w.Security == security).Logins;
        if (!logins.Contains(connection.Login))
            throw new LinkException(
                TokenInvalid,
                $"with {security.Text} the server takes "
                    + $"{(logins.Count > 0 ? string.Join(" or ", logins.Select(Words)) : "nobody")}, not {Words(connection.Login)}"
            );
        // A password must not go to whoever happens to answer, whether or not the rest is secured.
        if (security.IsSecured || connection.Login == UaLogin.Password)
        {
            if (offer.Certificate is not { } certificate)
                throw new LinkException(new(0x80120000), "the server shows no certificate");
            if (certificate.Problem is { } problem)
                throw new LinkException(certificate.Status, $"the server's certificate cannot be used: {problem}");
            if (!certificate.IsTrusted)
                throw new LinkException(
                    certificate.Status,
                    "the server's certificate is not trusted yet; look at it with Test connection and say whether to trust it"
                );
        }
        var ask = Ask(connection, identity);
        ask["policy"] = security.Policy;
        ask["mode"] = security.Mode;
        ask["serverCertificate"] = offer.Certificate is { } its ? Convert.ToBase64String(its.Der) : null;
        ask["login"] = connection.Login switch
        {
            UaLogin.Password => new JsonObject
            {
                ["kind"] = "password",
                ["user"] = connection.User,
                ["password"] = password ?? "",
            },
            UaLogin.Certificate => new JsonObject
            {
                ["kind"] = "certificate",
                ["certificate"] = await File.ReadAllTextAsync(identity.CertificateFile, stop),
                ["key"] = await File.ReadAllTextAsync(identity.KeyFile, stop),
            },
            _ => new JsonObject { ["kind"] = "anonymous" },
        };
        try
        {
            await child.AskAsync("open", ask, Longer, stop);
        }
        catch (LinkException e) when (LetsNobodyIn.Contains(e.Status) && connection.Login != UaLogin.Anonymous)
        {
            throw new LinkException(
                e.Status,
                connection.Login == UaLogin.Password
                    ? $"the server does not let {connection.User} in: name or password is wrong, or this user has no right"
                    : "the server does not let the user of our certificate in; is the certificate trusted there as that of a user?",
                e
            );
        }
        return offer;
    }

    /// <summary>What a node holds now.</summary>
    public static async Task<(JsonElement Value, StatusCode Status)> ReadAsync(UaChild child, NodeAddress address, CancellationToken stop)
    {
        var said = await child.AskAsync("read", new() { ["nodes"] = new JsonArray(address.Node) }, ConnectWithin, stop);
        var value = said.GetProperty("values")[0];
        return (value[0], new(value[1].GetUInt32()));
    }

    private static JsonObject Ask(OpcUaConnection connection, UaIdentity identity)
    {
        using var made = identity.Certificate();
        return new()
        {
            ["url"] = connection.Endpoint,
            ["timeout"] = (int)ConnectWithin.TotalMilliseconds,
            ["pki"] = identity.ChildDirectory,
            ["certificate"] = identity.CertificateFile,
            ["key"] = identity.KeyFile,
            ["applicationUri"] = UaIdentity.ApplicationUri,
        };
    }

    private static string Words(UaLogin login) =>
        login switch
        {
            UaLogin.Password => "a user with a password",
            UaLogin.Certificate => "a user with a certificate",
            _ => "anybody",
        };
}
