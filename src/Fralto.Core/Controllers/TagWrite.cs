using System.Globalization;
using Fralto.Core.Scaling;

namespace Fralto.Core.Controllers;

/// <summary>A raw value on its way to a controller.</summary>
/// <param name="Tag">The tag that is written.</param>
/// <param name="Raw">The raw number, rounded as the type rounds; not-a-number for text.</param>
/// <param name="Text">The text of a tag of text; null for numbers.</param>
/// <param name="Slice">The part of the tag that is written; the rest stays as it is.</param>
public sealed record TagWrite(Tag Tag, double Raw, string? Text = null, Slice? Slice = null)
{
    /// <summary>Element of an array; 0 for a single value.</summary>
    public int Element => Slice?.Element ?? 0;

    /// <summary>A word with the written bits put into it; the raw number itself where no bits are named.</summary>
    /// <param name="word">What the word holds now.</param>
    public double Into(double word)
    {
        if (Slice is not { FirstBit: { } first } bits)
            return Raw;
        var mask = (uint)((1UL << bits.BitCount) - 1) << first;
        return ((uint)(long)word & ~mask) | (((uint)Raw << first) & mask);
    }

    /// <summary>Reads a raw value as a person types it; null with the reason when the tag cannot hold it.</summary>
    public static TagWrite? Read(Tag tag, string text, out string? problem)
    {
        problem = null;
        if (tag.Type == RawType.Text)
        {
            var longest = tag.Address.HasFixedLength ? tag.Count : Tag.LongestText;
            if (text.Length <= longest)
                return new(tag, double.NaN, text);
            problem = $"The text has {text.Length} characters; {tag.Name} holds {longest}.";
            return null;
        }
        double raw;
        if (tag.Type == RawType.Bool && bool.TryParse(text, out var on))
            raw = on ? 1 : 0;
        else if (FieldText.Number(text, out problem) is { } number)
            raw = number;
        else
        {
            problem = tag.Type == RawType.Bool ? $"'{text}' is neither true nor false." : problem;
            return null;
        }
        return Of(tag, raw, null, out problem);
    }

    /// <summary>A raw number, rounded to the tag's type; null with the reason when it does not fit.</summary>
    public static TagWrite? Of(Tag tag, double raw, Slice? slice, out string? problem)
    {
        if (slice is { FirstBit: not null } bits)
        {
            var whole = Math.Round(raw, MidpointRounding.AwayFromZero);
            problem =
                whole >= 0 && whole < Math.Pow(2, bits.BitCount)
                    ? null
                    : $"{whole} does not fit {(bits.BitCount == 1 ? "one bit" : $"{bits.BitCount} bits")}.";
            return problem is null ? new(tag, whole, null, slice) : null;
        }
        if (tag.Type == RawType.Bool)
        {
            problem = raw is 0 or 1 ? null : $"{raw.ToString(CultureInfo.InvariantCulture)} is neither 0 nor 1.";
            return problem is null ? new(tag, raw, null, slice) : null;
        }
        problem = RawCodec.WhyNot(raw, tag.Type);
        if (problem is not null)
            return null;
        System.Span<ushort> words = stackalloc ushort[4];
        RawCodec.TryWrite(raw, tag.Type, WordOrder.HighFirst, words);
        return new(tag, RawCodec.Read(words, tag.Type, WordOrder.HighFirst), null, slice);
    }
}
