using System.Text.Json;
using System.Text.Json.Serialization;

namespace Fralto.Store;

/// <summary>How facts and journal changes are written as JSON: sparse, with names for enumerations.</summary>
internal static class Json
{
    private static readonly JsonSerializerOptions Options = new()
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        IgnoreReadOnlyProperties = true,
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        Converters = { new JsonStringEnumConverter() },
    };

    public static string Write<T>(T value) => JsonSerializer.Serialize(value, Options);

    public static JsonElement Element(object value) => JsonSerializer.SerializeToElement(value, value.GetType(), Options);

    public static object? Read(JsonElement? value, Type type) => value is { ValueKind: not JsonValueKind.Null } json ? json.Deserialize(type, Options) : null;

    public static T Read<T>(string json) => JsonSerializer.Deserialize<T>(json, Options) ?? throw new JsonException("null where facts were expected");
}
