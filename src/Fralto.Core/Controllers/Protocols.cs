namespace Fralto.Core.Controllers;

/// <summary>What is known of the protocols.</summary>
public static class Protocols
{
    /// <summary>The protocol in words.</summary>
    public static string Words(this Protocol protocol) => protocol switch
    {
        Protocol.Modbus => "Modbus TCP",
        Protocol.Mqtt => "MQTT",
        Protocol.Sparkplug => "Sparkplug B",
        _ => "memory",
    };

    /// <summary>True when the device sends values by itself; false when they are asked for.</summary>
    public static bool IsPushed(this Protocol protocol) => protocol is Protocol.Mqtt or Protocol.Sparkplug;

    /// <summary>True when what there is can be listed.</summary>
    public static bool CanBrowse(this Protocol protocol) => protocol.IsPushed();

    /// <summary>How an address is written, for the field's hint.</summary>
    public static string AddressHint(this Protocol protocol) => protocol switch
    {
        Protocol.Modbus => "holding 120, input 4.3 for a bit, unit 2 coil 7",
        Protocol.Mqtt => "silo/7/state#/level for a JSON field, or just the topic",
        Protocol.Sparkplug => "group/node/device#metric",
        _ => "empty, or: start 20, retained",
    };
}
