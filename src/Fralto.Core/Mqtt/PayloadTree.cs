using System.Globalization;
using System.Text;
using System.Text.Json;
using Fralto.Core.Controllers;
using Fralto.Core.Scaling;

namespace Fralto.Core.Mqtt;

/// <summary>What a payload shows that could become tags: itself, or every leaf of its JSON; arrays of numbers or booleans as
/// wholes.</summary>
public static class PayloadTree
{
    private const int Deepest = 8;
    private const int Widest = 500;
    private const int Shown = 60;

    /// <summary>The items of one payload.</summary>
    public static IEnumerable<SourceItem> Of(string topic, ReadOnlySpan<byte> payload)
    {
        var text = Encoding.UTF8.GetString(payload[..Math.Min(payload.Length, PayloadReader.Longest)]);
        var path = topic.Split('/');
        var trimmed = text.Trim();
        if (trimmed.StartsWith('{') || trimmed.StartsWith('['))
        {
            try
            {
                using var document = JsonDocument.Parse(trimmed);
                var items = new List<SourceItem>();
                Walk(topic, document.RootElement, "", path, items, 0);
                return items;
            }
            catch (JsonException)
            {
                // Then it is text that only looks like JSON.
            }
        }
        var type =
            double.TryParse(trimmed, NumberStyles.Float, CultureInfo.InvariantCulture, out _) ? RawType.Float64
            : trimmed is "true" or "false" or "on" or "off" ? RawType.Bool
            : RawType.Text;
        return [new SourceItem(new TopicAddress(topic), path, type, 1, Short(trimmed))];
    }

    private static void Walk(string topic, JsonElement element, string pointer, string[] path, List<SourceItem> items, int depth)
    {
        if (items.Count >= Widest)
            return;
        switch (element.ValueKind)
        {
            case JsonValueKind.Object when depth < Deepest:
                // What has a name that is no text cannot be named in an address either.
                foreach (var member in element.EnumerateObject())
                    if (JsonText.NameOf(member) is { } name)
                        Walk(topic, member.Value, $"{pointer}/{TopicAddress.Step(name)}", [.. path, name], items, depth + 1);
                break;
            case JsonValueKind.Array when ArrayType(element) is { } whole:
                items.Add(new(new TopicAddress(topic, pointer), path, whole, element.GetArrayLength(), Short(element.GetRawText())));
                break;
            case JsonValueKind.Array when depth < Deepest:
                var index = 0;
                foreach (var item in element.EnumerateArray())
                    Walk(topic, item, $"{pointer}/{index}", [.. path, $"{index++}"], items, depth + 1);
                break;
            default:
                var type = element.ValueKind switch
                {
                    JsonValueKind.Number => RawType.Float64,
                    JsonValueKind.True or JsonValueKind.False => RawType.Bool,
                    _ => RawType.Text,
                };
                items.Add(
                    new(
                        new TopicAddress(topic, pointer),
                        path,
                        type,
                        1,
                        Short(
                            element.ValueKind == JsonValueKind.String ? JsonText.Of(element) ?? element.GetRawText() : element.GetRawText()
                        )
                    )
                );
                break;
        }
    }

    private static RawType? ArrayType(JsonElement array)
    {
        var kinds = array
            .EnumerateArray()
            .Take(Tag.MostElements)
            .Select(e => e.ValueKind == JsonValueKind.False ? JsonValueKind.True : e.ValueKind)
            .Distinct()
            .ToArray();
        return array.GetArrayLength() is < 2 or > Tag.MostElements
            ? null
            : kinds switch
            {
                [JsonValueKind.Number] => RawType.Float64,
                [JsonValueKind.True] => RawType.Bool,
                _ => null,
            };
    }

    private static string Short(string text) =>
        text.Length > Shown ? text[..(char.IsHighSurrogate(text[Shown - 1]) ? Shown - 1 : Shown)] + " …" : text;
}
