using Fralto.Core.Controllers;
using Fralto.Core.Protocols;
using Fralto.Links.OpcUa;

namespace Fralto.Links;

/// <summary>The protocols there are. Whatever has to do with one asks here; none is taken for another.</summary>
public sealed class ProtocolDrivers(IEnumerable<IProtocolDriver> drivers)
{
    private readonly Dictionary<Protocol, IProtocolDriver> _drivers = drivers.ToDictionary(d => d.Protocol);

    /// <summary>Those that ship with Fralto.</summary>
    /// <param name="identity">Who we are to OPC UA servers, and whom we trust.</param>
    /// <param name="clock">Our clock.</param>
    public static ProtocolDrivers Shipped(UaIdentity identity, TimeProvider clock) =>
        new([
            new Modbus.ModbusDriver(),
            new Mqtt.MqttDriver(),
            new Sparkplug.SparkplugDriver(),
            new OpcUaDriver(identity, clock),
            new Memory.MemoryDriver(),
        ]);

    /// <summary>The driver of a connection.</summary>
    /// <exception cref="NotSupportedException">There is none for its protocol.</exception>
    public IProtocolDriver For(Connection connection) =>
        _drivers.GetValueOrDefault(connection.Protocol)
        ?? throw new NotSupportedException($"Fralto has no driver for {connection.Protocol.Words()}.");
}
