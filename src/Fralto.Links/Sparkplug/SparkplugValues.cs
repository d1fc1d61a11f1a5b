using System.Buffers.Binary;
using System.Globalization;
using System.Text;
using Fralto.Core.Controllers;
using Fralto.Core.Mqtt;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Core.Sparkplug;
using Fralto.Sparkplug.Wire;
using Google.Protobuf;

namespace Fralto.Links.Sparkplug;

/// <summary>Between metrics of Sparkplug B and raw values (Eclipse Sparkplug 3.0.0, chapter 6: data types).</summary>
internal static class SparkplugValues
{
    private const int FirstArray = 22;
    private const int LastArray = 34;
    private const int StaleQuality = 500,
        BadQuality = 0;

    /// <summary>The type of the tag a metric becomes, and its elements; null for kinds that are no value: data sets, files, property
    /// sets.</summary>
    public static (RawType Type, int Count)? TypeOf(Metric metric, uint datatype) =>
        datatype switch
        {
            1 => (RawType.Int8, 1),
            2 => (RawType.Int16, 1),
            3 => (RawType.Int32, 1),
            4 => (RawType.Int64, 1),
            5 => (RawType.UInt8, 1),
            6 => (RawType.UInt16, 1),
            7 => (RawType.UInt32, 1),
            8 => (RawType.UInt64, 1),
            9 => (RawType.Float32, 1),
            10 => (RawType.Float64, 1),
            11 => (RawType.Bool, 1),
            12 or 13 or 14 or 15 => (RawType.Text, 1),
            >= FirstArray and <= LastArray and not 33 and not 34 => (ElementOf(datatype), Math.Max(1, CountOf(metric, datatype))),
            _ => null,
        };

    /// <summary>Makes samples of a metric for one tag.</summary>
    public static void Read(Metric metric, uint datatype, Tag tag, long at, List<Sample> into)
    {
        if (metric.IsNull)
            Bad(StatusCode.BadNoData, "the device says it has no value (null)");
        else if (QualityOf(metric) is { } quality && (quality is BadQuality or StaleQuality))
            Bad(
                StatusCode.BadDeviceFailure,
                quality == BadQuality ? "the device says its value is bad" : "the device says its value is stale"
            );
        else if (datatype is >= FirstArray and <= LastArray)
            ReadArray();
        else if (tag.IsArray)
            Bad(StatusCode.BadTypeMismatch, $"a single value came, the tag is {tag.TypeText}");
        else if (Text(metric, datatype) is { } text)
            into.Add(
                tag.Type == RawType.Text
                    ? new(tag.Id, double.NaN, StatusCode.Good, at, null, 0, text)
                    : new(tag.Id, double.NaN, StatusCode.BadTypeMismatch, at, $"text came, the tag is {tag.TypeText}")
            );
        else if (tag.Type == RawType.Text)
            Bad(StatusCode.BadTypeMismatch, "a number came, the tag is text");
        else if (Number(metric, datatype) is { } number)
            into.Add(PayloadReader.Fit(tag, number, at, 0));
        else
            Bad(StatusCode.BadDecodingError, $"the metric has no value of its data type {datatype}");

        void ReadArray()
        {
            var bytes = metric.ValueCase == Metric.ValueOneofCase.BytesValue ? metric.BytesValue.Span : default;
            var count = CountOf(metric, datatype);
            if (tag.Address is MetricAddress { Element: { } one })
            {
                if (one < count && !tag.IsArray)
                    into.Add(PayloadReader.Fit(tag, ElementAt(bytes, datatype, one), at, 0));
                else
                    Bad(StatusCode.BadTypeMismatch, $"an array of {count} came; it has no element {one} for a {tag.TypeText}");
                return;
            }
            if (count != tag.Elements || !tag.IsArray && count != 1)
            {
                Bad(StatusCode.BadTypeMismatch, $"an array of {count} came, the tag is {tag.TypeText}");
                return;
            }
            for (var i = 0; i < count; i++)
                into.Add(PayloadReader.Fit(tag, ElementAt(bytes, datatype, i), at, i));
        }
        void Bad(StatusCode status, string reason)
        {
            for (var i = 0; i < tag.Elements; i++)
                into.Add(new(tag.Id, double.NaN, status, at, reason, i));
        }
    }

    /// <summary>The value of a metric in words.</summary>
    public static string Words(Metric metric, uint datatype)
    {
        if (metric.IsNull)
            return "null";
        if (datatype is >= FirstArray and <= LastArray)
            return $"{CountOf(metric, datatype)} elements";
        return Text(metric, datatype)
            ?? (
                Number(metric, datatype) is { } number
                    ? datatype == 9
                        ? ((float)number).ToString("R", CultureInfo.InvariantCulture)
                        : datatype == 11
                            ? number != 0
                                ? "true"
                                : "false"
                            : number.ToString("G9", CultureInfo.InvariantCulture)
                    : ""
            );
    }

    /// <summary>The value of a property of a metric as text; null when it has none of this name.</summary>
    public static string? Property(Metric metric, string key)
    {
        if (metric.Properties is not { } set)
            return null;
        for (var i = 0; i < Math.Min(set.Keys.Count, set.Values.Count); i++)
        {
            if (!string.Equals(set.Keys[i], key, StringComparison.OrdinalIgnoreCase))
                continue;
            var value = set.Values[i];
            return value.ValueCase switch
            {
                PropertyValue.ValueOneofCase.StringValue => value.StringValue,
                PropertyValue.ValueOneofCase.IntValue => ((int)value.IntValue).ToString(CultureInfo.InvariantCulture),
                PropertyValue.ValueOneofCase.LongValue => ((long)value.LongValue).ToString(CultureInfo.InvariantCulture),
                PropertyValue.ValueOneofCase.FloatValue => value.FloatValue.ToString("R", CultureInfo.InvariantCulture),
                PropertyValue.ValueOneofCase.DoubleValue => value.DoubleValue.ToString("R", CultureInfo.InvariantCulture),
                PropertyValue.ValueOneofCase.BooleanValue => value.BooleanValue ? "true" : "false",
                _ => null,
            };
        }
        return null;
    }

    /// <summary>Puts a raw value into a metric of a data type.</summary>
    public static void Write(Metric metric, uint datatype, TagWrite write)
    {
        metric.Datatype = datatype;
        switch (datatype)
        {
            case 9:
                metric.FloatValue = (float)write.Raw;
                break;
            case 10:
                metric.DoubleValue = write.Raw;
                break;
            case 11:
                metric.BooleanValue = write.Raw != 0;
                break;
            case 12 or 14 or 15:
                metric.StringValue = write.Text ?? write.Raw.ToString("R", CultureInfo.InvariantCulture);
                break;
            case 4:
                metric.LongValue = (ulong)(long)write.Raw;
                break;
            case 8:
                metric.LongValue = (ulong)write.Raw;
                break;
            case 7:
                metric.IntValue = (uint)write.Raw;
                break;
            default:
                metric.IntValue = (uint)(int)write.Raw;
                break;
        }
    }

    private static int? QualityOf(Metric metric) =>
        Property(metric, "Quality") is { } text && int.TryParse(text, NumberStyles.Integer, CultureInfo.InvariantCulture, out var quality)
            ? quality
            : null;

    private static string? Text(Metric metric, uint datatype) =>
        datatype switch
        {
            12 or 14 or 15 => Clean(metric.StringValue),
            13 => DateTimeOffset
                .FromUnixTimeMilliseconds((long)Math.Min(metric.LongValue, 253_402_300_799_999))
                .UtcDateTime.ToString("O", CultureInfo.InvariantCulture),
            _ => null,
        };

    /// <summary>Signed numbers travel as two's complement in an unsigned field; 32-bit unsigned ones in either field.</summary>
    private static double? Number(Metric metric, uint datatype)
    {
        ulong? bits = metric.ValueCase switch
        {
            Metric.ValueOneofCase.IntValue => metric.IntValue,
            Metric.ValueOneofCase.LongValue => metric.LongValue,
            Metric.ValueOneofCase.BooleanValue => metric.BooleanValue ? 1UL : 0,
            _ => null,
        };
        return datatype switch
        {
            9 or 10 when metric.ValueCase == Metric.ValueOneofCase.FloatValue => (double)metric.FloatValue,
            9 or 10 when metric.ValueCase == Metric.ValueOneofCase.DoubleValue => metric.DoubleValue,
            1 when bits is { } b => (double)(sbyte)b,
            2 when bits is { } b => (double)(short)b,
            3 when bits is { } b => (double)(int)b,
            4 when bits is { } b => (double)(long)b,
            5 when bits is { } b => (double)(byte)b,
            6 when bits is { } b => (double)(ushort)b,
            7 when bits is { } b => (double)(uint)b,
            8 when bits is { } b => (double)b,
            11 when bits is { } b => b != 0 ? 1d : 0d,
            _ => null,
        };
    }

    private static RawType ElementOf(uint datatype) =>
        datatype switch
        {
            22 => RawType.Int8,
            23 => RawType.Int16,
            24 => RawType.Int32,
            25 => RawType.Int64,
            26 => RawType.UInt8,
            27 => RawType.UInt16,
            28 => RawType.UInt32,
            29 => RawType.UInt64,
            30 => RawType.Float32,
            31 => RawType.Float64,
            _ => RawType.Bool,
        };

    private static int SizeOf(uint datatype) =>
        ElementOf(datatype) switch
        {
            RawType.Int8 or RawType.UInt8 => 1,
            RawType.Int16 or RawType.UInt16 => 2,
            RawType.Int32 or RawType.UInt32 or RawType.Float32 => 4,
            _ => 8,
        };

    private static int CountOf(Metric metric, uint datatype)
    {
        if (metric.ValueCase != Metric.ValueOneofCase.BytesValue)
            return 0;
        var bytes = metric.BytesValue.Span;
        if (datatype != 32)
            return datatype >= 33 ? 0 : Math.Min(bytes.Length / SizeOf(datatype), Tag.MostElements);
        // Booleans: their number in four bytes, then a bit each, the highest first.
        if (bytes.Length < 4)
            return 0;
        var count = BinaryPrimitives.ReadUInt32LittleEndian(bytes);
        return count <= (bytes.Length - 4) * 8 ? (int)Math.Min(count, Tag.MostElements) : 0;
    }

    private static double ElementAt(ReadOnlySpan<byte> bytes, uint datatype, int i)
    {
        if (datatype == 32)
            return (bytes[4 + i / 8] >> (7 - i % 8)) & 1;
        var at = bytes[(i * SizeOf(datatype))..];
        return datatype switch
        {
            22 => (double)(sbyte)at[0],
            23 => BinaryPrimitives.ReadInt16LittleEndian(at),
            24 => BinaryPrimitives.ReadInt32LittleEndian(at),
            25 => (double)BinaryPrimitives.ReadInt64LittleEndian(at),
            26 => at[0],
            27 => BinaryPrimitives.ReadUInt16LittleEndian(at),
            28 => BinaryPrimitives.ReadUInt32LittleEndian(at),
            29 => (double)BinaryPrimitives.ReadUInt64LittleEndian(at),
            30 => BinaryPrimitives.ReadSingleLittleEndian(at),
            _ => BinaryPrimitives.ReadDoubleLittleEndian(at),
        };
    }

    private static string Clean(string text)
    {
        if (text.Length > Tag.MostElements)
            text = text[..Tag.MostElements];
        return new StringBuilder(text).Replace('\0', ' ').Replace('\n', ' ').Replace('\r', ' ').ToString();
    }

    /// <summary>The bytes of a payload.</summary>
    public static byte[] Bytes(Payload payload) => payload.ToByteArray();
}
