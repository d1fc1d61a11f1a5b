using System.Collections.Immutable;
using Fralto.Core.Controllers;
using Fralto.Core.Memory;
using Fralto.Core.Modbus;
using Fralto.Core.Mqtt;
using Fralto.Core.OpcUa;
using Fralto.Core.Sparkplug;

namespace Fralto.Core.Protocols;

/// <summary>The protocols there are, and what is known of each. Whatever has to do with one asks here.</summary>
public static class KnownProtocols
{
    /// <summary>All of them, in the order they are offered.</summary>
    public static ImmutableArray<ProtocolRules> All { get; } =
    [new ModbusRules(), new MqttRules(), new SparkplugRules(), new OpcUaRules(), new MemoryRules()];

    /// <summary>What is known of a protocol.</summary>
    /// <exception cref="NotSupportedException">It is none of those there are.</exception>
    public static ProtocolRules Rules(this Protocol protocol)
    {
        foreach (var rules in All)
            if (rules.Protocol == protocol)
                return rules;
        throw new NotSupportedException($"Fralto knows no protocol {protocol}.");
    }

    /// <summary>What is known of a protocol by its name; null when the name is none.</summary>
    public static ProtocolRules? Find(string? name) =>
        All.FirstOrDefault(r => string.Equals($"{r.Protocol}", name, StringComparison.OrdinalIgnoreCase));

    /// <summary>The protocol in words.</summary>
    public static string Words(this Protocol protocol) => protocol.Rules().Words;

    /// <summary>Says a connection in an entry.</summary>
    public static T Written<T>(this Connection connection, T entry)
        where T : ConnectionEntry => (T)connection.Protocol.Rules().Write(connection, entry);

    /// <summary>The connection an entry says; what is missing is as usual.</summary>
    public static Connection Read(this ConnectionEntry entry) => (entry.Protocol ?? Protocol.Modbus).Rules().Read(entry);
}
