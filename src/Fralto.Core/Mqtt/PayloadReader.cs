using System.Buffers.Text;
using System.Globalization;
using System.Text;
using System.Text.Json;
using Fralto.Core.Controllers;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Core.Mqtt;

/// <summary>Makes samples of the payloads of one MQTT topic, for all tags that are there.</summary>
/// <remarks>Whatever a payload holds, it yields a sample for each tag: a Bad one with the reason when it cannot be read.</remarks>
public sealed class PayloadReader
{
    /// <summary>Longest payload that is read, in bytes.</summary>
    public const int Longest = 1024 * 1024;

    private const double FirstMilliseconds = 1e11;
    private const int Shown = 40;
    private readonly Tag[] _bare;
    private readonly Place[] _json;

    /// <param name="tags">Tags at one topic.</param>
    public PayloadReader(IEnumerable<Tag> tags)
    {
        var all = tags.Select(t => (Tag: t, Address: (TopicAddress)t.Address)).ToArray();
        _bare = [.. all.Where(t => t.Address.Pointer is null).Select(t => t.Tag)];
        _json =
        [
            .. all.Where(t => t.Address.Pointer is not null)
                .Select(t => new Place(
                    t.Tag,
                    StepsOf(t.Address.Pointer)!,
                    StepsOf(t.Address.TimePointer),
                    StepsOf(t.Address.QualityPointer)
                )),
        ];
        HasTimes = _json.Any(p => p.Time is not null);
    }

    /// <summary>True when a payload may hold a time of its own.</summary>
    public bool HasTimes { get; }

    /// <summary>Reads one payload.</summary>
    /// <param name="payload">Its bytes.</param>
    /// <param name="arrived">When it came, in UTC ticks: the time of values that bring none. A time that a payload brings is taken as it
    /// is.</param>
    /// <param name="into">Where the samples go.</param>
    public void Read(ReadOnlySpan<byte> payload, long arrived, List<Sample> into)
    {
        if (payload.Length > Longest)
        {
            foreach (var tag in _bare)
                Bad(into, tag, StatusCode.BadDecodingError, arrived, TooLong(payload.Length));
            foreach (var place in _json)
                Bad(into, place.Tag, StatusCode.BadDecodingError, arrived, TooLong(payload.Length));
            return;
        }
        foreach (var tag in _bare)
            ReadBare(tag, payload, arrived, into);
        if (_json.Length == 0)
            return;
        try
        {
            var reader = new Utf8JsonReader(payload);
            using var document = JsonDocument.ParseValue(ref reader);
            if (reader.Read() || !payload[(int)reader.BytesConsumed..].Trim(" \r\n\t\0"u8).IsEmpty)
                throw new JsonException("something stands after the document");
            foreach (var place in _json)
                ReadJson(place, document.RootElement, arrived, into);
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException or DecoderFallbackException)
        {
            var reason = payload.IsEmpty ? "the payload is empty" : $"the payload is no JSON: {Start(payload)}";
            foreach (var place in _json)
                Bad(into, place.Tag, StatusCode.BadDecodingError, arrived, reason);
        }
    }

    /// <summary>A raw value as text that a device reads back: numbers in full, true and false, text as it is.</summary>
    public static string Write(TagWrite write) =>
        write.Text
        ?? (
            write.Tag.Type == RawType.Bool
                ? write.Raw != 0
                    ? "true"
                    : "false"
                : write.Raw.ToString("R", CultureInfo.InvariantCulture)
        );

    private static string TooLong(int bytes) => $"the payload has {bytes} bytes; {Longest} are read";

    private static string[]? StepsOf(string? pointer) => pointer is null ? null : TopicAddress.Steps(pointer);

    private static void ReadBare(Tag tag, ReadOnlySpan<byte> payload, long at, List<Sample> into)
    {
        var text = payload.Trim(" \r\n\t\0"u8);
        if (tag.Type == RawType.Text)
            into.Add(new(tag.Id, double.NaN, StatusCode.Good, at, null, 0, Clean(payload)));
        else if (text.IsEmpty)
            Bad(into, tag, StatusCode.BadNoData, at, "the payload is empty");
        else if (Utf8Parser.TryParse(text, out double number, out var used) && used == text.Length)
            into.Add(Fit(tag, number, at, 0));
        else if (tag.Type == RawType.Bool && Truth(Encoding.UTF8.GetString(text[..Math.Min(text.Length, Shown)])) is { } on)
            into.Add(new(tag.Id, on ? 1 : 0, StatusCode.Good, at));
        else
            Bad(into, tag, StatusCode.BadTypeMismatch, at, $"{Start(payload)} is no {tag.Type.Word()}");
    }

    private static void ReadJson(Place place, JsonElement root, long arrived, List<Sample> into)
    {
        var tag = place.Tag;
        var at = place.Time is { } steps && Find(root, steps) is { } time ? TimeOf(time) : arrived;
        if (at is not { } when)
        {
            Bad(
                into,
                tag,
                StatusCode.BadDecodingError,
                arrived,
                "the time cannot be read; it is ISO 8601, or seconds or milliseconds since 1970"
            );
            return;
        }
        var status = place.Quality is { } quality && Find(root, quality) is { } said ? QualityOf(said) : StatusCode.Good;
        if (status.IsBad)
        {
            Bad(into, tag, status, when, "the device says its value is bad");
            return;
        }
        var before = into.Count;
        if (Find(root, place.Value) is not { } value)
            Bad(into, tag, StatusCode.BadNoData, when, $"the payload has no #{((TopicAddress)tag.Address).Pointer}");
        else if (!tag.IsArray)
            into.Add(Read(tag, value, when, 0));
        else if (value.ValueKind != JsonValueKind.Array || value.GetArrayLength() != tag.Count)
            Bad(
                into,
                tag,
                StatusCode.BadTypeMismatch,
                when,
                value.ValueKind == JsonValueKind.Array
                    ? $"an array of {value.GetArrayLength()} came, the tag has {tag.Count} elements"
                    : "no array came"
            );
        else
        {
            var element = 0;
            foreach (var item in value.EnumerateArray())
                into.Add(Read(tag, item, when, element++));
        }
        if (status.IsGood)
            return;
        for (var i = before; i < into.Count; i++)
            if (into[i].Status.IsGood)
                into[i] = into[i] with { Status = status, Reason = "the device says its value is uncertain" };
    }

    private static Sample Read(Tag tag, JsonElement value, long at, int element)
    {
        if (value.ValueKind == JsonValueKind.String && JsonText.Of(value) is null)
            return new(
                tag.Id,
                double.NaN,
                StatusCode.BadDecodingError,
                at,
                "the text holds half of a character pair, which is no text",
                element
            );
        if (tag.Type == RawType.Text)
            return new(
                tag.Id,
                double.NaN,
                StatusCode.Good,
                at,
                null,
                element,
                value.ValueKind == JsonValueKind.String ? Clean(value.GetString()!) : Clean(value.GetRawText())
            );
        switch (value.ValueKind)
        {
            case JsonValueKind.Number when value.TryGetDouble(out var number):
                return Fit(tag, number, at, element);
            case JsonValueKind.True or JsonValueKind.False:
                return tag.Type == RawType.Bool
                    ? new(tag.Id, value.GetBoolean() ? 1 : 0, StatusCode.Good, at, null, element)
                    : Mismatch("true or false");
            case JsonValueKind.String:
                var text = value.GetString()!;
                if (double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var written))
                    return Fit(tag, written, at, element);
                if (tag.Type == RawType.Bool && Truth(text) is { } on)
                    return new(tag.Id, on ? 1 : 0, StatusCode.Good, at, null, element);
                return Mismatch($"the text '{Clean(text)[..Math.Min(Clean(text).Length, Shown)]}'");
            case JsonValueKind.Null:
                return new(tag.Id, double.NaN, StatusCode.BadNoData, at, "the device sent null", element);
            default:
                return Mismatch(value.ValueKind == JsonValueKind.Array ? "an array" : "an object");
        }
        Sample Mismatch(string what) =>
            new(tag.Id, double.NaN, StatusCode.BadTypeMismatch, at, $"{what} came, the tag is {tag.Type.Word()}", element);
    }

    /// <summary>A number as a tag's type holds it; what does not fit is a mismatch, and said.</summary>
    public static Sample Fit(Tag tag, double number, long at, int element)
    {
        if (tag.Type is RawType.Float64)
            return new(tag.Id, number, StatusCode.Good, at, null, element);
        if (tag.Type is RawType.Float32)
            return new(tag.Id, (float)number, StatusCode.Good, at, null, element);
        if (number == Math.Floor(number) && tag.Type.RangeOf().Contains(number))
            return new(tag.Id, number, StatusCode.Good, at, null, element);
        return new(
            tag.Id,
            double.NaN,
            StatusCode.BadTypeMismatch,
            at,
            $"{number.ToString("R", CultureInfo.InvariantCulture)} came, which is no {tag.Type.Word()}",
            element
        );
    }

    private static JsonElement? Find(JsonElement root, string[] steps)
    {
        foreach (var step in steps)
        {
            if (root.ValueKind == JsonValueKind.Object && JsonText.Member(root, step) is { } member)
                root = member;
            else if (
                root.ValueKind == JsonValueKind.Array
                && int.TryParse(step, NumberStyles.None, CultureInfo.InvariantCulture, out var index)
                && index < root.GetArrayLength()
            )
                root = root[index];
            else
                return null;
        }
        return root;
    }

    private static long? TimeOf(JsonElement value)
    {
        if (
            value.ValueKind == JsonValueKind.String
            && DateTimeOffset.TryParse(JsonText.Of(value), CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var time)
        )
            return time.UtcTicks;
        if (value.ValueKind != JsonValueKind.Number || !value.TryGetDouble(out var number) || !(number > 0) || number > 1e14)
            return null;
        return DateTime.UnixEpoch.Ticks
            + (long)(number * (number >= FirstMilliseconds ? TimeSpan.TicksPerMillisecond : TimeSpan.TicksPerSecond));
    }

    /// <summary>Words, true and false, and the classic quality byte: 192 and above good, 64 and above uncertain, below bad (common
    /// practice, no source).</summary>
    private static StatusCode QualityOf(JsonElement value)
    {
        if (value.ValueKind == JsonValueKind.False)
            return StatusCode.BadDeviceFailure;
        if (value.ValueKind == JsonValueKind.Number && value.TryGetDouble(out var number))
            return number >= 192 ? StatusCode.Good
                : number >= 64 ? StatusCode.UncertainSensorNotAccurate
                : StatusCode.BadDeviceFailure;
        if (value.ValueKind != JsonValueKind.String)
            return StatusCode.Good;
        if (JsonText.Of(value) is not { } word)
            return StatusCode.BadDeviceFailure;
        return word.StartsWith("bad", StringComparison.OrdinalIgnoreCase) ? StatusCode.BadDeviceFailure
            : word.StartsWith("uncertain", StringComparison.OrdinalIgnoreCase) ? StatusCode.UncertainSensorNotAccurate
            : StatusCode.Good;
    }

    private static bool? Truth(string text) =>
        text.ToUpperInvariant() switch
        {
            "TRUE" or "ON" or "1" => true,
            "FALSE" or "OFF" or "0" => false,
            _ => null,
        };

    private static void Bad(List<Sample> into, Tag tag, StatusCode status, long at, string reason)
    {
        for (var i = 0; i < tag.Elements; i++)
            into.Add(new(tag.Id, double.NaN, status, at, reason, i));
    }

    private static string Start(ReadOnlySpan<byte> payload) =>
        $"'{Clean(payload[..Math.Min(payload.Length, Shown)])}{(payload.Length > Shown ? " …" : "")}'";

    private static string Clean(ReadOnlySpan<byte> utf8) => Clean(Encoding.UTF8.GetString(utf8));

    /// <summary>Text without control characters, at most as long as a tag of text can be.</summary>
    private static string Clean(string text)
    {
        if (text.Length > Tag.MostElements)
            text = text[..(char.IsHighSurrogate(text[Tag.MostElements - 1]) ? Tag.MostElements - 1 : Tag.MostElements)];
        return text.Any(char.IsControl) ? new([.. text.Select(c => char.IsControl(c) ? ' ' : c)]) : text;
    }

    private sealed record Place(Tag Tag, string[] Value, string[]? Time, string[]? Quality);
}
