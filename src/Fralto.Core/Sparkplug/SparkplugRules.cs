using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Mqtt;

namespace Fralto.Core.Sparkplug;

/// <summary>What is known of Sparkplug B 3.0 over MQTT.</summary>
public sealed class SparkplugRules : MqttRules
{
    private static readonly SparkplugConnection Usual = new("", MqttConnection.AssignedPort);

    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.Sparkplug;

    /// <inheritdoc/>
    public override string Words => "Sparkplug B";

    /// <inheritdoc/>
    public override string AddressHint => "group/node/device#metric";

    /// <inheritdoc/>
    public override string? BrowseHint => null;

    /// <inheritdoc/>
    public override (string Label, string Usual)? BrowseFilter => null;

    /// <inheritdoc/>
    public override (string Label, string Hint)? Interval => null;

    /// <inheritdoc/>
    public override ImmutableArray<ConnectionField> Fields { get; } =
    [
        .. Broker,
        ConnectionField.Text("Group", "Group", e => e.Group, (e, text) => e with { Group = text }) with
        {
            Otherwise = "all groups",
        },
        ConnectionField.Text("HostId", "Host id", e => e.HostId, (e, text) => e with { HostId = text }) with
        {
            Otherwise = Usual.HostId,
            Hint = "said in spBv1.0/STATE/…",
        },
        Certificate,
    ];

    /// <inheritdoc/>
    public override Connection New => Usual;

    /// <inheritdoc/>
    public override Connection Read(ConnectionEntry entry) =>
        Read(
            entry,
            new SparkplugConnection(entry.Host ?? "", entry.Port ?? Usual.Port)
            {
                Group = entry.Group ?? "",
                HostId = entry.HostId ?? Usual.HostId,
            }
        );

    /// <inheritdoc/>
    public override ConnectionEntry Write(Connection connection, ConnectionEntry entry)
    {
        var its = (SparkplugConnection)connection;
        return base.Write(its, entry) with { Group = NullIfEmpty(its.Group), HostId = its.HostId };
    }

    /// <inheritdoc/>
    public override IEnumerable<string> Details(Connection connection)
    {
        var its = (SparkplugConnection)connection;
        return base.Details(its).Append($"host {its.HostId}, group {(its.Group.Length > 0 ? its.Group : "any")}");
    }

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Connection connection)
    {
        var its = (SparkplugConnection)connection;
        foreach (var problem in base.Problems(its))
            yield return problem;
        if (its.HostId.Length is 0 or > Naming.LongestName || !IsId(its.HostId))
            yield return new("HostId", "A host id has 1 to 100 characters, none of them +, / or #.");
        if (its.Group.Length > Naming.LongestName || !IsId(its.Group))
            yield return new("Group", "A group id has at most 100 characters, none of them +, / or #; leave it empty for all groups.");
    }

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Tag tag) => Payloads(tag, mayBeArray: true);

    private protected override TagAddress? Address(string text, out string? problem) => MetricAddress.Parse(text, out problem);

    private static bool IsId(string id) => id.AsSpan().IndexOfAny('+', '/', '#') < 0 && !id.Any(char.IsControl);
}
