using System.Globalization;
using System.Text.Json;
using Fralto.Core.Controllers;
using Fralto.Core.Mqtt;
using Fralto.Core.OpcUa;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Links.OpcUa;

/// <summary>Between values of OPC UA, as the child tells them, and samples.</summary>
internal static class NodeValue
{
    private static readonly StatusCode NoSuchPart = new(0x80360000);

    /// <summary>Makes samples of what a node holds for one tag.</summary>
    /// <param name="tag">The tag.</param>
    /// <param name="value">What the node holds.</param>
    /// <param name="status">Its status.</param>
    /// <param name="at">The time its source gives, in UTC ticks.</param>
    /// <param name="into">Takes a sample for each element.</param>
    public static void Read(Tag tag, JsonElement value, StatusCode status, long at, List<Sample> into)
    {
        if (status.IsBad)
        {
            Bad(status, UaStatusText.Words(status));
            return;
        }
        var reason = UaStatusText.Words(status);
        var address = (NodeAddress)tag.Address;
        foreach (var name in address.Member?.Split('/') ?? [])
        {
            if (value.ValueKind == JsonValueKind.Object && value.TryGetProperty(name, out var member))
                value = member;
            else if (value.ValueKind == JsonValueKind.Array && Index(name) is { } at2 && at2 < value.GetArrayLength())
                value = value[at2];
            else
            {
                Bad(StatusCode.BadTypeMismatch, $"what came has no member {name}");
                return;
            }
        }
        if (value.ValueKind == JsonValueKind.Null)
            Bad(StatusCode.BadNoData, "the server says it has no value (null)");
        else if (value.ValueKind == JsonValueKind.Array)
            ReadArray();
        else if (address.Element is { } one)
            Bad(NoSuchPart, $"a single value came; it has no element {one}");
        else if (tag.IsArray)
            Bad(StatusCode.BadTypeMismatch, $"a single value came, the tag is {tag.TypeText}");
        else
            Add(value, 0);

        void ReadArray()
        {
            var count = value.GetArrayLength();
            if (address.Element is { } element)
            {
                if (element < count)
                    Add(value[element], 0);
                else
                    Bad(NoSuchPart, $"an array of {count} came; it has no element {element}");
            }
            else if (count != tag.Elements)
                Bad(StatusCode.BadTypeMismatch, $"an array of {count} came, the tag is {tag.TypeText}");
            else
            {
                var i = 0;
                foreach (var its in value.EnumerateArray())
                    Add(its, i++);
            }
        }

        void Add(JsonElement its, int element)
        {
            var sample = One(tag, its, at, element);
            into.Add(sample.Status.IsGood ? sample with { Status = status, Reason = reason } : sample);
        }

        void Bad(StatusCode why, string? words)
        {
            for (var i = 0; i < tag.Elements; i++)
                into.Add(new(tag.Id, double.NaN, why, at, words, i));
        }
    }

    /// <summary>The number a value is; null when it is none. 64-bit integers, not-a-number and infinities come as texts.</summary>
    public static double? Number(JsonElement value) =>
        value.ValueKind switch
        {
            JsonValueKind.Number => value.GetDouble(),
            JsonValueKind.String when value.GetString() is "Infinity" or "-Infinity" => value.GetString() == "Infinity"
                ? double.PositiveInfinity
                : double.NegativeInfinity,
            JsonValueKind.String
                when double.TryParse(value.GetString(), NumberStyles.Float, CultureInfo.InvariantCulture, out var number) => number,
            _ => null,
        };

    /// <summary>A value in words.</summary>
    public static string Words(JsonElement value) =>
        value.ValueKind switch
        {
            JsonValueKind.String => value.GetString()!.Length <= 80 ? value.GetString()! : value.GetString()![..80] + "…",
            JsonValueKind.Number => value.GetDouble().ToString("G7", CultureInfo.InvariantCulture),
            JsonValueKind.Array =>
                $"[{string.Join(", ", value.EnumerateArray().Take(8).Select(Words))}{(value.GetArrayLength() >= 8 ? ", …" : "")}]",
            JsonValueKind.Object => "{…}",
            _ => "",
        };

    private static int? Index(string name) =>
        int.TryParse(name, NumberStyles.None, CultureInfo.InvariantCulture, out var index) ? index : null;

    private static Sample One(Tag tag, JsonElement value, long at, int element)
    {
        if (tag.Type == RawType.Text)
            return value.ValueKind == JsonValueKind.String
                ? new(tag.Id, double.NaN, StatusCode.Good, at, null, element, Clean(value.GetString()!))
                : new(tag.Id, double.NaN, StatusCode.BadTypeMismatch, at, "a number came, the tag is text", element);
        if (Number(value) is not { } number)
            return new(
                tag.Id,
                double.NaN,
                StatusCode.BadTypeMismatch,
                at,
                $"{(value.ValueKind == JsonValueKind.String ? "text" : "a structure")} came, the tag is {tag.TypeText}",
                element
            );
        return PayloadReader.Fit(tag, number, at, element);
    }

    /// <summary>A text as it can be shown in a line, and no longer than is kept.</summary>
    private static string Clean(string text)
    {
        if (text.Length > Tag.MostElements)
            text = text[..Tag.MostElements];
        return text.AsSpan().IndexOfAnyInRange('\0', '\u001f') < 0 ? text : string.Concat(text.Select(c => char.IsControl(c) ? ' ' : c));
    }
}
