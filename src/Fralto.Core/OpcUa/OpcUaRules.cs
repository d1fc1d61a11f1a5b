using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Scaling;

namespace Fralto.Core.OpcUa;

/// <summary>What is known of OPC UA over its binary protocol (OPC UA Parts 3, 4, 6 and 8).</summary>
public sealed class OpcUaRules : ProtocolRules
{
    /// <summary>Longest address of a server, in characters.</summary>
    public const int LongestEndpoint = 300;

    private static readonly OpcUaConnection Usual = new("");

    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.OpcUa;

    /// <inheritdoc/>
    public override string Words => "OPC UA";

    /// <inheritdoc/>
    public override bool IsPushed => true;

    /// <inheritdoc/>
    public override bool IsSampled => true;

    /// <inheritdoc/>
    public override string AddressHint => "nsu=http://namespace/;s=Name, as browsing lists them";

    /// <inheritdoc/>
    public override (string Label, string Usual)? BrowseFilter => ("Below the node", "");

    /// <inheritdoc/>
    public override bool HasCertificates => true;

    /// <inheritdoc/>
    public override (string Label, string Hint)? Interval => ("Publishing interval, ms", "how often changes are sent; 1000 when empty");

    /// <inheritdoc/>
    public override ImmutableArray<ConnectionField> Fields { get; } =
    [
        ConnectionField.Text("Endpoint", "Address of the server", e => e.Endpoint, (e, text) => e with { Endpoint = text }) with
        {
            Hint = "for example opc.tcp://192.168.0.20:4840",
            Longest = LongestEndpoint,
        },
        new(
            "Security",
            "Security",
            ConnectionFieldKind.Choice,
            e => e.Security ?? UaSecurity.Usual.Text,
            (e, text) => e with { Security = text == UaSecurity.Usual.Text ? null : text }
        )
        {
            Options = [.. UaSecurity.All.Select(s => (s.Text, s.Words))],
            Hint = "Test connection shows what the server offers",
        },
        new(
            "Login",
            "Comes as",
            ConnectionFieldKind.Choice,
            e => $"{e.Login ?? UaLogin.Anonymous}",
            (e, text) => e with { Login = Enum.TryParse<UaLogin>(text, out var login) && login != UaLogin.Anonymous ? login : null }
        )
        {
            Options =
            [
                ($"{UaLogin.Anonymous}", "anybody"),
                ($"{UaLogin.Password}", "user with a password"),
                ($"{UaLogin.Certificate}", "user with our certificate"),
            ],
        },
        ConnectionField.Text("User", "User", e => e.User, (e, text) => e with { User = text }) with
        {
            Otherwise = "none",
        },
        new("Password", "Password", ConnectionFieldKind.Password, _ => null, (e, _) => e) { Longest = 4000 },
        ConnectionField.Whole("SamplingMs", "Sampling interval, ms", e => e.SamplingMs, (e, n) => e with { SamplingMs = n }) with
        {
            Otherwise = "as it publishes",
            IsFurther = true,
        },
        ConnectionField.Whole("Queue", "Values kept between two publishes", e => e.Queue, (e, n) => e with { Queue = n }) with
        {
            Otherwise = "1",
            IsFurther = true,
        },
        new(
            "Deadband",
            "Smallest change told, % of the range",
            ConnectionFieldKind.Text,
            e => e.Deadband?.ToString(CultureInfo.InvariantCulture),
            (e, text) => e with { Deadband = text is null ? null : FieldText.Number(text, out _) ?? double.NaN }
        )
        {
            Otherwise = "any",
            Hint = "for nodes that say their range",
            IsFurther = true,
        },
    ];

    /// <inheritdoc/>
    public override Connection New => Usual;

    /// <inheritdoc/>
    public override Connection Read(ConnectionEntry entry) =>
        new OpcUaConnection(entry.Endpoint?.Trim() ?? "")
        {
            Security = UaSecurity.Find(entry.Security ?? UaSecurity.Usual.Text) ?? new(entry.Security!, "?"),
            Login = entry.Login ?? UaLogin.Anonymous,
            User = entry.User ?? "",
            Sampling = TimeSpan.FromMilliseconds(entry.SamplingMs ?? 0),
            Queue = entry.Queue ?? Usual.Queue,
            Deadband = entry.Deadband ?? 0,
        };

    /// <inheritdoc/>
    public override ConnectionEntry Write(Connection connection, ConnectionEntry entry)
    {
        var its = (OpcUaConnection)connection;
        return entry with
        {
            Protocol = Protocol,
            Endpoint = its.Endpoint,
            Security = its.Security == UaSecurity.Usual ? null : its.Security.Text,
            Login = its.Login == UaLogin.Anonymous ? null : its.Login,
            User = NullIfEmpty(its.User),
            SamplingMs = Unless((int)its.Sampling.TotalMilliseconds, 0),
            Queue = Unless(its.Queue, Usual.Queue),
            Deadband = its.Deadband == 0 ? null : its.Deadband,
        };
    }

    /// <inheritdoc/>
    public override IEnumerable<string> Details(Connection connection)
    {
        var its = (OpcUaConnection)connection;
        yield return its.Security.IsSecured ? its.Security.Words : "not secured";
        yield return its.Login switch
        {
            UaLogin.Password => $"as {its.User}",
            UaLogin.Certificate => "as the user of our certificate",
            _ => "as anybody",
        };
        if (its.Sampling > TimeSpan.Zero)
            yield return string.Create(CultureInfo.InvariantCulture, $"sampled every {its.Sampling.TotalMilliseconds} ms");
        if (its.Queue > 1)
            yield return $"{its.Queue} values between two publishes";
        if (its.Deadband > 0)
            yield return string.Create(CultureInfo.InvariantCulture, $"changes of {its.Deadband} % of the range");
    }

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Connection connection)
    {
        var its = (OpcUaConnection)connection;
        if (EndpointProblem(its.Endpoint) is { } endpoint)
            yield return new("Endpoint", endpoint);
        if (UaSecurity.Find(its.Security.Text) is null)
            yield return new("Security", $"Security is one of {string.Join(", ", UaSecurity.All.Select(s => s.Text))}.");
        if (its.User.Length > ConnectionField.UsualLength || its.User.Any(char.IsControl))
            yield return new("User", $"At most {ConnectionField.UsualLength} characters, none of them a control character.");
        else if (its.Login == UaLogin.Password && its.User.Length == 0)
            yield return new("User", "Give the name of the user.");
        if (its.Login == UaLogin.Certificate && !its.Security.IsSecured)
            yield return new("Login", "A server that is not secured takes no certificate; choose a security first.");
        foreach (var problem in SamplingProblems(its.Sampling == TimeSpan.Zero ? null : its.Sampling, its.Queue, its.Deadband))
            yield return problem;
    }

    /// <summary>What is wrong with how a server is asked to sample; null for what is not said.</summary>
    internal static IEnumerable<Problem> SamplingProblems(TimeSpan? sampling, int? queue, double? deadband)
    {
        if (sampling is { } every && (every < TimeSpan.FromMilliseconds(1) || every > Controller.LongestInterval))
            yield return new("SamplingMs", "A sampling interval is 1 to 3600000 ms; leave it empty for as often as it publishes.");
        if (queue is < 1 or > OpcUaConnection.MostQueued)
            yield return new("Queue", $"A server can be asked to keep 1 to {OpcUaConnection.MostQueued} values, not {queue}.");
        if (deadband is not (null or (>= 0 and <= 100)))
            yield return new("Deadband", "The smallest change is 0 to 100 % of the range (OPC UA Part 8, clause 6.2).");
    }

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Tag tag)
    {
        if (tag.Type is RawType.Bcd16 or RawType.Bcd32)
            yield return new("Type", $"{tag.Type.Word()} is a way to read registers; OPC UA says its numbers in full.");
        if (tag.IsArray && ((NodeAddress)tag.Address).Element is not null)
            yield return new("Count", "One element is a single value; leave the element out to take the array as a whole.");
    }

    private protected override TagAddress? Address(string text, out string? problem) => NodeAddress.Parse(text, out problem);

    private static string? EndpointProblem(string endpoint)
    {
        if (endpoint.Length == 0)
            return "Give the server's address, as in opc.tcp://192.168.0.20:4840.";
        if (endpoint.Length > LongestEndpoint)
            return $"The address has {endpoint.Length} characters; {LongestEndpoint} is the most.";
        if (
            !Uri.TryCreate(endpoint, UriKind.Absolute, out var uri)
            || !uri.Scheme.Equals("opc.tcp", StringComparison.OrdinalIgnoreCase)
            || uri.UserInfo.Length > 0
        )
            return $"'{endpoint}' is no address of an OPC UA server: it begins with opc.tcp:// and names a host, as in "
                + "opc.tcp://192.168.0.20:4840.";
        return HostProblem(uri.IdnHost) ?? (uri.Port > 0 ? PortProblem(uri.Port, "OPC UA servers listen on 4840.") : null);
    }
}
