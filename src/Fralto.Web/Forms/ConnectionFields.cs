using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;

namespace Fralto.Web.Forms;

/// <summary>The fields of a controller and its connection, in and out of a form.</summary>
public static class ConnectionFields
{
    /// <summary>Stands in the password field for a password that is kept and not shown.</summary>
    public const string Kept = "••••••••";

    private static readonly (string Unit, double Milliseconds)[] Spans = [("ms", 1), ("s", 1000), ("min", 60_000), ("h", 3_600_000)];

    /// <summary>Reads the edit a form asks for.</summary>
    public static SaveController Read(FormReader reader, long? id)
    {
        var protocol = reader.Has("Protocol") ? reader.Choice<Protocol>("Protocol") : Protocol.Modbus;
        var (host, port) = protocol == Protocol.Memory ? ("", 0) : (reader.Text("Host"), reader.Whole("Port", "the TCP port"));
        Connection connection = protocol switch
        {
            Protocol.Memory => new MemoryConnection(),
            Protocol.Mqtt => Broker(reader, new MqttConnection(host, port)) with { StatusTopic = reader.Text("StatusTopic"), OnlinePayload = reader.Text("OnlinePayload") is { Length: > 0 } word ? word : "online" },
            Protocol.Sparkplug => Broker(reader, new SparkplugConnection(host, port) { Group = reader.Text("Group"), HostId = reader.Text("HostId") is { Length: > 0 } its ? its : "fralto" }),
            _ => new ModbusConnection(host, port, reader.Whole("UnitId", "the unit id"))
            {
                LargestRead = Whole(reader, "LargestRead", "registers a request", new ModbusConnection("", 1, 1).LargestRead),
                Gap = Whole(reader, "Gap", "the gap", new ModbusConnection("", 1, 1).Gap),
                Retries = Whole(reader, "Retries", "how often a request is repeated", new ModbusConnection("", 1, 1).Retries),
            },
        };
        var interval = protocol == Protocol.Memory ? 0 : protocol.IsPushed() && reader.Text("UpdateIntervalMs").Length == 0 ? 0 : reader.Whole("UpdateIntervalMs", "the update interval in ms");
        return new(id, reader.Text("Name"), connection, interval, ReadClasses(reader));
    }

    /// <summary>The fields of a controller as a form shows them.</summary>
    public static FormState Of(Controller controller, bool hasPassword)
    {
        var fields = new List<(string, object?)> { ("Id", controller.Id), ("Name", controller.Name), ("Protocol", controller.Protocol), ("UpdateIntervalMs", controller.UpdateInterval.TotalMilliseconds), ("UpdateClasses", Write(controller.UpdateClasses)) };
        switch (controller.Connection)
        {
            case ModbusConnection it:
                fields.AddRange([("Host", it.Host), ("Port", it.Port), ("UnitId", it.UnitId), ("LargestRead", it.LargestRead), ("Gap", it.Gap), ("Retries", it.Retries)]);
                break;
            case MqttConnection it:
                fields.AddRange(
                [
                    ("Host", it.Host), ("Port", it.Port), ("Version", it.IsVersion5 ? "5" : "3"), ("Tls", it.UsesTls ? "yes" : "no"), ("Authority", it.Authority), ("User", it.User), ("Password", hasPassword ? Kept : ""),
                    ("ClientId", it.ClientId), ("KeepAlive", it.KeepAlive), ("StatusTopic", it.StatusTopic), ("OnlinePayload", it.OnlinePayload),
                    ("Group", (it as SparkplugConnection)?.Group), ("HostId", (it as SparkplugConnection)?.HostId),
                ]);
                break;
        }
        return FormState.Of([.. fields]);
    }

    /// <summary>What a form for a new controller begins with.</summary>
    public static FormState New(Protocol protocol) => protocol switch
    {
        Protocol.Modbus => FormState.Of(("Protocol", protocol), ("Port", ModbusConnection.AssignedPort), ("UnitId", 1), ("UpdateIntervalMs", 1000)),
        Protocol.Memory => FormState.Of(("Protocol", protocol)),
        _ => FormState.Of(("Protocol", protocol), ("Port", MqttConnection.AssignedPort), ("Version", "3"), ("Tls", "no"), ("KeepAlive", 15), ("HostId", "fralto"), ("OnlinePayload", "online")),
    };

    /// <summary>Update classes in words: a line each, name and interval.</summary>
    public static string Write(ImmutableArray<UpdateClass> classes) => string.Join('\n', classes.Select(c =>
    {
        var span = Spans.Last(s => c.Interval.TotalMilliseconds % s.Milliseconds == 0 && c.Interval.TotalMilliseconds >= s.Milliseconds || s.Milliseconds == 1);
        return string.Create(CultureInfo.InvariantCulture, $"{c.Name} {c.Interval.TotalMilliseconds / span.Milliseconds} {span.Unit}");
    }));

    private static T Broker<T>(FormReader reader, T at)
        where T : MqttConnection => (T)(at with
        {
            IsVersion5 = reader.Text("Version") == "5",
            UsesTls = reader.Text("Tls") == "yes",
            Authority = reader.Text("Authority", EntityRules.LongestCertificate).ReplaceLineEndings("\n"),
            User = reader.Text("User"),
            ClientId = reader.Text("ClientId"),
            KeepAlive = Whole(reader, "KeepAlive", "the keep-alive in seconds", at.KeepAlive),
        });

    private static int Whole(FormReader reader, string field, string what, int usual) => reader.Text(field).Length == 0 ? usual : reader.Whole(field, what);

    private static ImmutableArray<UpdateClass> ReadClasses(FormReader reader)
    {
        var classes = ImmutableArray.CreateBuilder<UpdateClass>();
        foreach (var line in reader.Text("UpdateClasses").ReplaceLineEndings("\n").Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var words = line.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            var span = Spans.FirstOrDefault(s => words is [_, _, var unit] && s.Unit.Equals(unit, StringComparison.OrdinalIgnoreCase));
            if (words is [var name, var number, _] && span.Unit is not null && double.TryParse(number, NumberStyles.Float, CultureInfo.InvariantCulture, out var many) && many > 0 && many < 1e6)
                classes.Add(new(name, TimeSpan.FromMilliseconds(many * span.Milliseconds)));
            else
                reader.Refuse("UpdateClasses", $"'{line}' is no update class; write a name, a number and ms, s, min or h, as in: slow 5 s");
        }
        return classes.ToImmutable();
    }
}
