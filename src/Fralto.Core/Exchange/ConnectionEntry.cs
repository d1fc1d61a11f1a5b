using Fralto.Core.Controllers;

namespace Fralto.Core.Exchange;

/// <summary>A connection as it is written: flat, with the members its protocol needs. The model format and the store share it. Passwords are not part of it.</summary>
public record ConnectionEntry
{
    /// <summary>Modbus when it is not said.</summary>
    public Protocol? Protocol { get; init; }

    public string? Host { get; init; }

    public int? Port { get; init; }

    public int? UnitId { get; init; }

    public int? LargestRead { get; init; }

    public int? Gap { get; init; }

    public int? Retries { get; init; }

    /// <summary>3 for MQTT 3.1.1, 5 for 5.0; 3 when it is not said.</summary>
    public int? MqttVersion { get; init; }

    public bool? Tls { get; init; }

    public string? Authority { get; init; }

    public string? User { get; init; }

    public string? ClientId { get; init; }

    public int? KeepAlive { get; init; }

    public string? StatusTopic { get; init; }

    public string? OnlinePayload { get; init; }

    public string? Group { get; init; }

    public string? HostId { get; init; }

    /// <summary>Says a connection in an entry.</summary>
    public static T Of<T>(Connection connection, T entry)
        where T : ConnectionEntry
    {
        ConnectionEntry made = connection switch
        {
            ModbusConnection it => entry with
            {
                Host = it.Host,
                Port = it.Port,
                UnitId = it.UnitId,
                LargestRead = Unless(it.LargestRead, Default.LargestRead),
                Gap = Unless(it.Gap, Default.Gap),
                Retries = Unless(it.Retries, Default.Retries),
            },
            MqttConnection it => entry with
            {
                Protocol = it.Protocol,
                Host = it.Host,
                Port = it.Port,
                MqttVersion = it.IsVersion5 ? 5 : null,
                Tls = it.UsesTls ? true : null,
                Authority = Text(it.Authority),
                User = Text(it.User),
                ClientId = Text(it.ClientId),
                KeepAlive = it.KeepAlive,
                StatusTopic = Text(it.StatusTopic),
                OnlinePayload = it.StatusTopic.Length > 0 ? it.OnlinePayload : null,
                Group = it is SparkplugConnection sparkplug ? Text(sparkplug.Group) : null,
                HostId = (it as SparkplugConnection)?.HostId,
            },
            _ => entry with { Protocol = Controllers.Protocol.Memory },
        };
        return (T)made;
    }

    /// <summary>The connection an entry says; what is missing is as usual.</summary>
    public Connection Read() => Protocol switch
    {
        Controllers.Protocol.Memory => new MemoryConnection(),
        Controllers.Protocol.Mqtt => Broker(new MqttConnection(Host ?? "", Port ?? MqttConnection.AssignedPort)),
        Controllers.Protocol.Sparkplug => Broker(new SparkplugConnection(Host ?? "", Port ?? MqttConnection.AssignedPort) { Group = Group ?? "", HostId = HostId ?? "fralto" }),
        _ => new ModbusConnection(Host ?? "", Port ?? ModbusConnection.AssignedPort, UnitId ?? 1)
        {
            LargestRead = LargestRead ?? Default.LargestRead,
            Gap = Gap ?? Default.Gap,
            Retries = Retries ?? Default.Retries,
        },
    };

    private static ModbusConnection Default { get; } = new("", ModbusConnection.AssignedPort, 1);

    private MqttConnection Broker(MqttConnection at) => at with
    {
        IsVersion5 = MqttVersion == 5,
        UsesTls = Tls ?? false,
        Authority = Authority ?? "",
        User = User ?? "",
        ClientId = ClientId ?? "",
        KeepAlive = KeepAlive ?? at.KeepAlive,
        StatusTopic = StatusTopic ?? "",
        OnlinePayload = OnlinePayload ?? at.OnlinePayload,
    };

    private static int? Unless(int value, int usual) => value == usual ? null : value;

    private static string? Text(string text) => text.Length > 0 ? text : null;
}
