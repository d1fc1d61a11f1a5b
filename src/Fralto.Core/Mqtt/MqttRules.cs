using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Scaling;

namespace Fralto.Core.Mqtt;

/// <summary>What is known of MQTT with plain payloads (MQTT 3.1.1 and 5.0).</summary>
public class MqttRules : ProtocolRules
{
    /// <summary>Longest certificate, in characters.</summary>
    public const int LongestCertificate = 20_000;

    private static readonly MqttConnection Usual = new("", MqttConnection.AssignedPort);

    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.Mqtt;

    /// <inheritdoc/>
    public override string Words => "MQTT";

    /// <inheritdoc/>
    public override bool IsPushed => true;

    /// <inheritdoc/>
    public override string AddressHint => "silo/7/state#/level for a JSON field, or just the topic";

    /// <inheritdoc/>
    public override string? BrowseHint =>
        "A broker cannot say which topics it has. Fralto listens for three seconds to the topics above, + standing for one level and "
        + "# for all the rest, and shows what is published and what the broker keeps.";

    /// <inheritdoc/>
    public override (string Label, string Usual)? BrowseFilter => ("Topics", "#");

    /// <inheritdoc/>
    public override ImmutableArray<ConnectionField> Fields { get; } =
    [
        .. Broker,
        ConnectionField.Text("StatusTopic", "Topic of its life sign", e => e.StatusTopic, (e, text) => e with { StatusTopic = text }) with
        {
            Otherwise = "none",
            Hint = "also that of its last will",
            IsFurther = true,
        },
        ConnectionField.Text(
            "OnlinePayload",
            "What it says while it lives",
            e => e.OnlinePayload,
            (e, text) => e with { OnlinePayload = text }
        ) with
        {
            Otherwise = Usual.OnlinePayload,
            IsFurther = true,
        },
        Certificate,
    ];

    /// <inheritdoc/>
    public override Connection New => Usual;

    /// <inheritdoc/>
    public override Connection Read(ConnectionEntry entry) => Read(entry, new MqttConnection(entry.Host ?? "", entry.Port ?? Usual.Port));

    /// <inheritdoc/>
    public override ConnectionEntry Write(Connection connection, ConnectionEntry entry)
    {
        var its = (MqttConnection)connection;
        return entry with
        {
            Protocol = its.Protocol,
            Host = its.Host,
            Port = its.Port,
            MqttVersion = its.IsVersion5 ? 5 : null,
            Tls = its.UsesTls ? true : null,
            Authority = NullIfEmpty(its.Authority),
            User = NullIfEmpty(its.User),
            ClientId = NullIfEmpty(its.ClientId),
            KeepAlive = its.KeepAlive,
            StatusTopic = NullIfEmpty(its.StatusTopic),
            OnlinePayload = its.StatusTopic.Length > 0 ? its.OnlinePayload : null,
        };
    }

    /// <inheritdoc/>
    public override IEnumerable<string> Details(Connection connection)
    {
        var its = (MqttConnection)connection;
        yield return $"MQTT {(its.IsVersion5 ? "5.0" : "3.1.1")}, keep-alive {its.KeepAlive} s";
        if (its.ClientId.Length > 0)
            yield return $"client id {its.ClientId}";
        if (its.StatusTopic.Length > 0)
            yield return $"lives while {its.StatusTopic} says {its.OnlinePayload}";
        if (its.Authority.Length > 0)
            yield return "with the certificate of an authority";
    }

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Connection connection)
    {
        var its = (MqttConnection)connection;
        if (HostProblem(its.Host) is { } host)
            yield return new("Host", host);
        if (PortProblem(its.Port, $"Brokers listen on {MqttConnection.AssignedPort}, with TLS on 8883.") is { } port)
            yield return new("Port", port);
        if (its.KeepAlive is < 1 or > MqttConnection.LongestKeepAlive)
            yield return new("KeepAlive", $"The keep-alive is 1 to {MqttConnection.LongestKeepAlive} s, not {its.KeepAlive}.");
        foreach (
            var (field, text) in new[]
            {
                ("User", its.User),
                ("ClientId", its.ClientId),
                ("StatusTopic", its.StatusTopic),
                ("OnlinePayload", its.OnlinePayload),
            }
        )
            if (text.Length > ConnectionField.UsualLength || text.Any(char.IsControl))
                yield return new(field, $"At most {ConnectionField.UsualLength} characters, none of them a control character.");
        if (its.StatusTopic.Length > 0 && TopicAddress.TopicProblem(its.StatusTopic) is { } topic)
            yield return new("StatusTopic", topic);
        if (its.Authority.Length > LongestCertificate)
            yield return new("Authority", $"A certificate has at most {LongestCertificate} characters.");
        else if (its.Authority.Length > 0 && !its.Authority.Contains("-----BEGIN CERTIFICATE-----", StringComparison.Ordinal))
            yield return new("Authority", "Paste the authority's certificate in PEM: it begins with -----BEGIN CERTIFICATE-----.");
    }

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Tag tag) => Payloads(tag, ((TopicAddress)tag.Address).Pointer is not null);

    /// <summary>What is wrong with a tag whose value comes in a payload.</summary>
    private protected static IEnumerable<Problem> Payloads(Tag tag, bool mayBeArray)
    {
        if (tag.Type is RawType.Bcd16 or RawType.Bcd32)
            yield return new("Type", $"{tag.Type.Word()} is a way to read registers; a payload says its numbers in full.");
        if (tag.IsArray && !mayBeArray)
            yield return new("Count", "A plain payload is one value; arrays are taken of JSON.");
    }

    /// <summary>The fields of a connection to a broker.</summary>
    private protected static IEnumerable<ConnectionField> Broker =>
        [
            .. Place($"brokers listen on {MqttConnection.AssignedPort}, with TLS on 8883"),
            new(
                "Version",
                "Version of MQTT",
                ConnectionFieldKind.Choice,
                e => e.MqttVersion == 5 ? "5" : "3",
                (e, text) => e with { MqttVersion = text == "5" ? 5 : null }
            )
            {
                Options = [("3", "3.1.1"), ("5", "5.0")],
            },
            new(
                "Tls",
                "Over TLS",
                ConnectionFieldKind.Choice,
                e => e.Tls == true ? "yes" : "no",
                (e, text) => e with { Tls = text == "yes" ? true : null }
            )
            {
                Options = [("no", "no"), ("yes", "yes")],
            },
            ConnectionField.Text("User", "User", e => e.User, (e, text) => e with { User = text }) with
            {
                Otherwise = "none",
            },
            new("Password", "Password", ConnectionFieldKind.Password, _ => null, (e, _) => e) { Longest = 4000 },
            ConnectionField.Text("ClientId", "Client id", e => e.ClientId, (e, text) => e with { ClientId = text }) with
            {
                Otherwise = "one of our making",
            },
            ConnectionField.Whole("KeepAlive", "Keep-alive, s", e => e.KeepAlive, (e, n) => e with { KeepAlive = n }) with
            {
                Otherwise = "15",
            },
        ];

    /// <summary>The field of the authority's certificate.</summary>
    private protected static ConnectionField Certificate =>
        new(
            "Authority",
            "Certificate of the authority, PEM",
            ConnectionFieldKind.Lines,
            e => e.Authority,
            (e, text) => e with { Authority = text?.ReplaceLineEndings("\n") }
        )
        {
            Hint = "empty to trust what this machine trusts",
            Longest = LongestCertificate,
            IsFurther = true,
        };

    /// <summary>A connection to a broker with what an entry says.</summary>
    private protected static MqttConnection Read(ConnectionEntry entry, MqttConnection at) =>
        at with
        {
            IsVersion5 = entry.MqttVersion == 5,
            UsesTls = entry.Tls ?? false,
            Authority = entry.Authority ?? "",
            User = entry.User ?? "",
            ClientId = entry.ClientId ?? "",
            KeepAlive = entry.KeepAlive ?? at.KeepAlive,
            StatusTopic = entry.StatusTopic ?? "",
            OnlinePayload = entry.OnlinePayload ?? at.OnlinePayload,
        };

    private protected override TagAddress? Address(string text, out string? problem) => TopicAddress.Parse(text, out problem);
}
