using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Controllers;
using Fralto.Core.Limits;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Pictures;

/// <summary>A chain stage by stage, each with its number, as it is computed: what the engine does, written down.</summary>
/// <param name="Stages">From the bytes to the value.</param>
/// <param name="Raw">The raw number; null when the bytes are none.</param>
/// <param name="Result">What comes out.</param>
public sealed record ChainReport(ImmutableArray<ChainStage> Stages, double? Raw, ChainResult Result)
{
    /// <summary>The report of the words a device sent.</summary>
    /// <param name="chain">The chain.</param>
    /// <param name="tag">The tag they were read for.</param>
    /// <param name="slice">The part of it that is taken.</param>
    /// <param name="words">All words of the tag, as they arrived; for a single bit, one word of 0 or 1.</param>
    /// <param name="property">The property it ends in.</param>
    /// <param name="units">Where symbols come from.</param>
    public static ChainReport Of(Chain chain, Tag tag, Slice? slice, ReadOnlySpan<ushort> words, ResolvedProperty property, UnitSet units)
    {
        var stages = new List<ChainStage>();
        var element = slice?.Element ?? 0;
        var own = ElementOf(tag, element, words);
        stages.Add(
            new(
                "Bytes",
                tag.IsWireBit
                    ? $"{tag.Address}, one bit"
                    : $"{tag.Address}, {(own.Length == 1 ? "1 register" : $"{own.Length} registers")} as they arrive",
                tag.IsWireBit ? $"{own[0]}" : RawCodec.Hex(own)
            )
        );
        var raw =
            tag.Type == RawType.Bool && tag.IsArray && !tag.IsWireBit
                ? RawCodec.ReadPackedBool(words, element, tag.WordOrder)
                    ? 1
                    : 0
                : RawCodec.Read(own, tag.Type, tag.WordOrder);
        var finite = double.IsFinite(raw);
        var packed = tag.Type == RawType.Bool ? $": bit {element % 32} of 32-bit word {element / 32}" : "";
        var how = tag.IsWireBit ? "bool" : $"{tag.TypeText}, {OrderText(tag)}{(tag.IsArray ? $", element {element}{packed}" : "")}";
        stages.Add(
            new(
                "Raw value",
                how,
                finite ? Text(raw) : "no number",
                finite ? null
                    : tag.Type is RawType.Bcd16 or RawType.Bcd32 ? "a nibble above 9 is no decimal digit"
                    : "not-a-number or infinity: a device says so when it has no value"
            )
        );
        return finite
            ? Of(stages, chain, slice, raw, property, units)
            : new([.. stages], null, new(double.NaN, StatusCode.BadSensorFailure));
    }

    /// <summary>The report of a raw number that somebody typed.</summary>
    public static ChainReport Of(Chain chain, Tag tag, Slice? slice, double raw, ResolvedProperty property, UnitSet units)
    {
        System.Span<ushort> words = stackalloc ushort[4];
        if (RawCodec.WhyNot(raw, tag.Type) is { } why)
            return new([new("Raw value", tag.TypeText, Text(raw), why)], null, new(double.NaN, StatusCode.BadOutOfRange));
        RawCodec.TryWrite(raw, tag.Type, tag.WordOrder, words);
        var rounded = RawCodec.Read(words, tag.Type, tag.WordOrder);
        var stages = new List<ChainStage>
        {
            new(
                "Bytes",
                tag.IsWireBit ? "one bit" : "as they would be sent",
                tag.IsWireBit ? Text(rounded) : RawCodec.Hex(words[..tag.Type.Words()])
            ),
            new(
                "Raw value",
                $"{tag.Type.Word()}{(tag.IsWireBit ? "" : $", {OrderText(tag)}")}",
                Text(rounded),
                rounded == raw ? null : $"{Text(raw)} is rounded to what {tag.Type.Word()} can hold"
            ),
        };
        return Of(stages, chain, slice, rounded, property, units);
    }

    private static ChainReport Of(List<ChainStage> stages, Chain chain, Slice? slice, double raw, ResolvedProperty property, UnitSet units)
    {
        var word = raw;
        if (slice is { FirstBit: not null } bits)
        {
            word = bits.BitsOf(raw);
            stages.Add(
                new(
                    "Slice",
                    bits.IsBit ? $"bit {bits.FirstBit}" : $"bits {bits.FirstBit} to {bits.FirstBit + bits.BitCount - 1}",
                    Text(word)
                )
            );
        }
        var scaled = word;
        if (chain.Scale is { } scale)
        {
            var signal = scale.Signal;
            var share = signal.Raw.FractionOf(word) * 100;
            var current = signal.MilliampsOf(word).ToString("0.00#", CultureInfo.InvariantCulture);
            stages.Add(
                new(
                    "Signal",
                    signal.Words,
                    $"{share.ToString("0.0#", CultureInfo.InvariantCulture)} %{(signal.IsCurrentLoop ? $" = {current} mA" : "")}",
                    signal.Complaint(word)
                )
            );
            var used = scale.Outside == OutsideRule.Clamp ? Math.Clamp(word, signal.Accepted.Minimum, signal.Accepted.Maximum) : word;
            scaled = scale.ToEngineering(used);
            stages.Add(
                new(
                    "Scale",
                    scale.Words,
                    $"{Text(scaled)} {units.SymbolOf(scale.YieldedUnit ?? property.Facts.Unit)}".TrimEnd(),
                    used == word ? null : $"clamped to {Text(used)}"
                )
            );
        }
        if (!chain.Conversion.IsNone)
            stages.Add(
                new(
                    "Unit",
                    $"× {Text(chain.Conversion.Factor)}{Offset(chain.Conversion.Offset)}",
                    $"{Text(chain.Conversion.Of(scaled))} {units.SymbolOf(property.Facts.Unit)}"
                )
            );
        var result = chain.Compute(raw);
        var value = result.Status.IsBad ? "no value" : $"{Text(result.Value)} {units.SymbolOf(property.Facts.Unit)}".TrimEnd();
        stages.Add(new("Value", result.Status.Name, value, chain.Reason(raw, result.Status)));
        return new([.. stages], raw, result);
    }

    private static ReadOnlySpan<ushort> ElementOf(Tag tag, int element, ReadOnlySpan<ushort> words)
    {
        if (tag.IsWireBit)
            return words.Slice(element, 1);
        if (tag.Type == RawType.Text)
            return words;
        return tag.Type == RawType.Bool && tag.IsArray
            ? words.Slice(element / 32 * 2, 2)
            : words.Slice(element * tag.Type.Words(), tag.Type.Words());
    }

    private static string OrderText(Tag tag) =>
        tag.Type.Words() == 1 && !tag.IsArray
            ? tag.WordOrder.IsSwapped()
                ? "bytes swapped"
                : "high byte first"
            : $"order {tag.WordOrder.Letters()}";

    private static string Text(double value) =>
        Math.Abs(value) is 0 or (>= 1e-4 and < 1e15)
            ? value.ToString("0.########", CultureInfo.InvariantCulture)
            : value.ToString("R", CultureInfo.InvariantCulture);

    private static string Offset(double offset) => offset == 0 ? "" : $" {(offset < 0 ? "-" : "+")} {Text(Math.Abs(offset))}";
}
