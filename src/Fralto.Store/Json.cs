using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using Fralto.Core.Controllers;
using Fralto.Core.Exchange;
using Fralto.Core.Modbus;
using Fralto.Core.NamingRules;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;

namespace Fralto.Store;

/// <summary>How facts and journal changes are written as JSON: sparse, with names for enumerations.</summary>
internal static class Json
{
    private static readonly JsonSerializerOptions Options = new()
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        IgnoreReadOnlyProperties = true,
        // The value of a step of an alarm may be none.
        NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals,
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        Converters =
        {
            new ScaleConverter(),
            new ConnectionConverter(),
            new AddressConverter(),
            new ControllerConverter(),
            new PatternConverter(),
            new JsonStringEnumConverter(),
        },
    };

    /// <summary>Scales are kept as the flat entry they are exchanged as; those of the first versions said their two spans as
    /// objects.</summary>
    private sealed class ScaleConverter : JsonConverter<Scale>
    {
        public override bool CanConvert(Type typeToConvert) => typeof(Scale).IsAssignableFrom(typeToConvert);

        public override Scale Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            var node = JsonNode.Parse(ref reader)!.AsObject();
            foreach (var member in new[] { "raw", "engineering" })
                if (node[member] is JsonObject span)
                    node[member] = new JsonArray(span["low"]!.DeepClone(), span["high"]!.DeepClone());
            return node.Deserialize<ScaleEntry>(options)!.Read(out var problems)
                ?? throw new JsonException($"no scale: {problems.FirstOrDefault()?.Message}");
        }

        public override void Write(Utf8JsonWriter writer, Scale value, JsonSerializerOptions options) =>
            JsonSerializer.Serialize(writer, ScaleEntry.Of(value), options);
    }

    /// <summary>Connections are kept as the flat entry they are exchanged as.</summary>
    private sealed class ConnectionConverter : JsonConverter<Connection>
    {
        public override bool CanConvert(Type typeToConvert) => typeof(Connection).IsAssignableFrom(typeToConvert);

        public override Connection Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            JsonSerializer.Deserialize<ConnectionEntry>(ref reader, options)!.Read();

        public override void Write(Utf8JsonWriter writer, Connection value, JsonSerializerOptions options) =>
            JsonSerializer.Serialize(writer, value.Written(new ConnectionEntry()), options);
    }

    /// <summary>Addresses are kept as protocol and text; those of the first versions were a table and an offset.</summary>
    private sealed class AddressConverter : JsonConverter<TagAddress>
    {
        public override bool CanConvert(Type typeToConvert) => typeof(TagAddress).IsAssignableFrom(typeToConvert);

        public override TagAddress Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            var node = JsonNode.Parse(ref reader)!.AsObject();
            if (node["area"] is { } area)
                return new ModbusAddress(Enum.Parse<RegisterArea>(area.GetValue<string>()), node["offset"]!.GetValue<int>());
            return Enum.Parse<Protocol>(node["protocol"]!.GetValue<string>())
                .Rules()
                .ReadAddress(node["at"]!.GetValue<string>(), out var problem)
                ?? throw new JsonException(problem);
        }

        public override void Write(Utf8JsonWriter writer, TagAddress value, JsonSerializerOptions options)
        {
            writer.WriteStartObject();
            writer.WriteString("protocol", $"{value.Protocol}");
            writer.WriteString("at", value.ToString());
            writer.WriteEndObject();
        }
    }

    /// <summary>Controllers of the first versions were Modbus devices and said their host, port and unit id themselves.</summary>
    private sealed class ControllerConverter : JsonConverter<Controller>
    {
        public override Controller Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            var node = JsonNode.Parse(ref reader)!.AsObject();
            return new(
                node["id"]!.GetValue<long>(),
                node["name"]!.GetValue<string>(),
                (node["connection"] ?? node).Deserialize<ConnectionEntry>(options)!.Read(),
                node["updateInterval"].Deserialize<TimeSpan>(options)
            )
            {
                UpdateClasses = node["updateClasses"] is { } classes ? [.. classes.Deserialize<UpdateClass[]>(options)!] : [],
            };
        }

        public override void Write(Utf8JsonWriter writer, Controller value, JsonSerializerOptions options)
        {
            writer.WriteStartObject();
            writer.WriteNumber("id", value.Id);
            writer.WriteString("name", value.Name);
            writer.WritePropertyName("connection");
            JsonSerializer.Serialize(writer, value.Connection, options);
            writer.WritePropertyName("updateInterval");
            JsonSerializer.Serialize(writer, value.UpdateInterval, options);
            writer.WritePropertyName("updateClasses");
            JsonSerializer.Serialize(writer, value.UpdateClasses, options);
            writer.WriteEndObject();
        }
    }

    /// <summary>Naming rules are kept as people write them.</summary>
    private sealed class PatternConverter : JsonConverter<NamePattern>
    {
        public override NamePattern Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            NamePattern.Parse(reader.GetString() ?? "", out var problem) ?? throw new JsonException(problem);

        public override void Write(Utf8JsonWriter writer, NamePattern value, JsonSerializerOptions options) =>
            writer.WriteStringValue(value.ToString());
    }

    public static string Write<T>(T value) => JsonSerializer.Serialize(value, Options);

    /// <summary>Writes an entity as the row of a change that adds it.</summary>
    public static void Added(Utf8JsonWriter writer, string kind, object entity)
    {
        writer.WriteStartObject();
        writer.WriteString("kind", kind);
        writer.WritePropertyName("after");
        JsonSerializer.Serialize(writer, entity, entity.GetType(), Options);
        writer.WriteEndObject();
    }

    public static T Read<T>(ReadOnlySpan<byte> json) =>
        JsonSerializer.Deserialize<T>(json, Options) ?? throw new JsonException("null where facts were expected");

    public static JsonElement Element(object value) => JsonSerializer.SerializeToElement(value, value.GetType(), Options);

    public static object? Read(JsonElement? value, Type type) =>
        value is { ValueKind: not JsonValueKind.Null } json ? json.Deserialize(type, Options) : null;

    public static T Read<T>(string json) =>
        JsonSerializer.Deserialize<T>(json, Options) ?? throw new JsonException("null where facts were expected");
}
