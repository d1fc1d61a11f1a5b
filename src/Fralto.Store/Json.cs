using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using Fralto.Core.Exchange;
using Fralto.Core.Scaling;

namespace Fralto.Store;

/// <summary>How facts and journal changes are written as JSON: sparse, with names for enumerations.</summary>
internal static class Json
{
    private static readonly JsonSerializerOptions Options = new()
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        IgnoreReadOnlyProperties = true,
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        Converters = { new ScaleConverter(), new JsonStringEnumConverter() },
    };

    /// <summary>Scales are kept as the flat entry they are exchanged as; those of the first versions said their two spans as objects.</summary>
    private sealed class ScaleConverter : JsonConverter<Scale>
    {
        public override bool CanConvert(Type typeToConvert) => typeof(Scale).IsAssignableFrom(typeToConvert);

        public override Scale Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            var node = JsonNode.Parse(ref reader)!.AsObject();
            foreach (var member in new[] { "raw", "engineering" })
                if (node[member] is JsonObject span) node[member] = new JsonArray(span["low"]!.DeepClone(), span["high"]!.DeepClone());
            return node.Deserialize<ScaleEntry>(options)!.Read(out var problems) ?? throw new JsonException($"no scale: {problems.FirstOrDefault()?.Message}");
        }

        public override void Write(Utf8JsonWriter writer, Scale value, JsonSerializerOptions options) => JsonSerializer.Serialize(writer, ScaleEntry.Of(value), options);
    }

    public static string Write<T>(T value) => JsonSerializer.Serialize(value, Options);

    public static JsonElement Element(object value) => JsonSerializer.SerializeToElement(value, value.GetType(), Options);

    public static object? Read(JsonElement? value, Type type) => value is { ValueKind: not JsonValueKind.Null } json ? json.Deserialize(type, Options) : null;

    public static T Read<T>(string json) => JsonSerializer.Deserialize<T>(json, Options) ?? throw new JsonException("null where facts were expected");
}
