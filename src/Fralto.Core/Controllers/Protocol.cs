namespace Fralto.Core.Controllers;

/// <summary>What a controller speaks.</summary>
public enum Protocol
{
    /// <summary>Modbus TCP.</summary>
    Modbus,

    /// <summary>MQTT with plain payloads: numbers, text or JSON.</summary>
    Mqtt,

    /// <summary>Sparkplug B 3.0 over MQTT.</summary>
    Sparkplug,

    /// <summary>OPC UA over its binary protocol.</summary>
    OpcUa,

    /// <summary>No device: values that people and programs write.</summary>
    Memory,
}
