using System.Collections.Immutable;
using Fralto.Core.Basics;

namespace Fralto.Core.Controllers;

/// <summary>Everything Fralto knows of a protocol without speaking it: what its connections and addresses look like, and what is wrong with
/// one.</summary>
/// <remarks>The driver that speaks it is in Fralto.Links. What asks a protocol asks here, and no protocol is taken for another.</remarks>
public abstract class ProtocolRules
{
    private protected ProtocolRules() { }

    /// <summary>The protocol.</summary>
    public abstract Protocol Protocol { get; }

    /// <summary>Its name in words.</summary>
    public abstract string Words { get; }

    /// <summary>True when the device sends values by itself; false when they are asked for.</summary>
    public virtual bool IsPushed => false;

    /// <summary>True when what there is can be listed.</summary>
    public virtual bool CanBrowse => IsPushed;

    /// <summary>True when the device samples by itself, so that an update class may say how.</summary>
    public virtual bool IsSampled => false;

    /// <summary>True when there is a device to reach; false where people and programs write the values.</summary>
    public virtual bool HasDevice => true;

    /// <summary>True when values are read from registers: words have an order, and blocks of them a layout.</summary>
    public virtual bool HasRegisters => false;

    /// <summary>How an address is written, for the field's hint.</summary>
    public abstract string AddressHint { get; }

    /// <summary>What to say before browsing, where a filter has to be given first; null where there is none.</summary>
    public virtual string? BrowseHint => null;

    /// <summary>What the field for where browsing begins is called and what it holds at first; null where it always lists
    /// everything.</summary>
    public virtual (string Label, string Usual)? BrowseFilter => null;

    /// <summary>True when servers show certificates, and we show one of ours.</summary>
    public virtual bool HasCertificates => false;

    /// <summary>What the update interval means; null where there is none.</summary>
    public virtual (string Label, string Hint)? Interval =>
        IsPushed
            ? ("Messages come every, ms", "0 when only changes are sent; three times this and they are stale")
            : ("Update interval, ms", "50 to 3600000");

    /// <summary>The fields of a connection, in the order they are asked for.</summary>
    public abstract ImmutableArray<ConnectionField> Fields { get; }

    /// <summary>What a new connection begins with.</summary>
    public abstract Connection New { get; }

    /// <summary>The connection an entry says; what is missing is as usual.</summary>
    public abstract Connection Read(ConnectionEntry entry);

    /// <summary>Says a connection in an entry, which keeps what else it holds; what is as usual is left out.</summary>
    public abstract ConnectionEntry Write(Connection connection, ConnectionEntry entry);

    /// <summary>What a connection says beside its place, a line each.</summary>
    public virtual IEnumerable<string> Details(Connection connection) => [];

    /// <summary>Reads an address as a person writes it.</summary>
    /// <param name="text">For example holding 120, silo/7#/level, or group/node/device#metric.</param>
    /// <param name="problem">What is wrong and what would do; null when it is an address.</param>
    public TagAddress? ReadAddress(string text, out string? problem)
    {
        problem = text.Length > TagAddress.Longest ? $"The address has {text.Length} characters; {TagAddress.Longest} is the most." : null;
        return problem is null ? Address(text, out problem) : null;
    }

    /// <summary>What is wrong with a connection, by field.</summary>
    public abstract IEnumerable<Problem> Problems(Connection connection);

    /// <summary>What is wrong with a tag at an address of this protocol, by field.</summary>
    public abstract IEnumerable<Problem> Problems(Tag tag);

    private protected abstract TagAddress? Address(string text, out string? problem);

    /// <summary>What is wrong with a host's name.</summary>
    private protected static string? HostProblem(string host)
    {
        if (string.IsNullOrWhiteSpace(host))
            return "Give the device's host name or IP address.";
        if (host.Length > 253)
            return "A host name has at most 253 characters.";
        return Uri.CheckHostName(host) == UriHostNameType.Unknown ? $"'{host}' is neither a host name nor an IP address." : null;
    }

    /// <summary>What is wrong with a TCP port.</summary>
    /// <param name="port">The port.</param>
    /// <param name="usual">Where such devices listen, in a sentence.</param>
    private protected static string? PortProblem(int port, string usual) =>
        port is < 1 or > 65535 ? $"A TCP port is 1 to 65535, not {port}. {usual}" : null;

    /// <summary>The fields for a host and its port.</summary>
    private protected static IEnumerable<ConnectionField> Place(string portHint) =>
        [
            ConnectionField.Text("Host", "Host name or IP address", e => e.Host, (e, text) => e with { Host = text }) with
            {
                Hint = "for example 192.168.0.20",
                Longest = 253,
            },
            ConnectionField.Whole("Port", "TCP port", e => e.Port, (e, n) => e with { Port = n }) with
            {
                Hint = portHint,
            },
        ];

    /// <summary>A value for an entry, or null where it is as usual.</summary>
    private protected static int? Unless(int value, int usual) => value == usual ? null : value;

    /// <summary>A text for an entry, or null where there is none.</summary>
    private protected static string? NullIfEmpty(string text) => text.Length > 0 ? text : null;
}
