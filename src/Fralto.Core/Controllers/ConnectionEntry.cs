namespace Fralto.Core.Controllers;

/// <summary>A connection as it is written: flat, with the members its protocol needs. The model format and the store share it. Passwords
/// are not part of it.</summary>
public record ConnectionEntry
{
    /// <summary>What is spoken. The first files left it out for the only protocol there was, Modbus.</summary>
    public Protocol? Protocol { get; init; }

    /// <summary>Host name or IP address.</summary>
    public string? Host { get; init; }

    /// <summary>TCP port.</summary>
    public int? Port { get; init; }

    /// <summary>Unit id of tags that name none.</summary>
    public int? UnitId { get; init; }

    /// <summary>The most registers one request reads.</summary>
    public int? LargestRead { get; init; }

    /// <summary>Unused registers worth reading over.</summary>
    public int? Gap { get; init; }

    /// <summary>How often a request is asked again.</summary>
    public int? Retries { get; init; }

    /// <summary>3 for MQTT 3.1.1, 5 for 5.0; 3 when it is not said.</summary>
    public int? MqttVersion { get; init; }

    /// <summary>True to speak over TLS.</summary>
    public bool? Tls { get; init; }

    /// <summary>Certificate of the authority, in PEM.</summary>
    public string? Authority { get; init; }

    /// <summary>User name.</summary>
    public string? User { get; init; }

    /// <summary>Client identifier.</summary>
    public string? ClientId { get; init; }

    /// <summary>Seconds between signs of life.</summary>
    public int? KeepAlive { get; init; }

    /// <summary>Topic of the life sign.</summary>
    public string? StatusTopic { get; init; }

    /// <summary>What the life sign says while the device lives.</summary>
    public string? OnlinePayload { get; init; }

    /// <summary>Group to listen to.</summary>
    public string? Group { get; init; }

    /// <summary>Identity as a host application.</summary>
    public string? HostId { get; init; }

    /// <summary>Address of an OPC UA server.</summary>
    public string? Endpoint { get; init; }

    /// <summary>Security policy and mode; Basic256Sha256 SignAndEncrypt when it is not said.</summary>
    public string? Security { get; init; }

    /// <summary>As whom Fralto comes; as nobody in particular when it is not said.</summary>
    public UaLogin? Login { get; init; }

    /// <summary>Milliseconds between two samples of the server.</summary>
    public int? SamplingMs { get; init; }

    /// <summary>Values the server keeps between two publishes.</summary>
    public int? Queue { get; init; }

    /// <summary>Smallest change that is told, in percent of the range.</summary>
    public double? Deadband { get; init; }
}
