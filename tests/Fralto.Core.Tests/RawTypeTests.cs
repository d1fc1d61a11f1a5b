using System.Globalization;
using CsCheck;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

public sealed class RawTypeTests
{
    [Theory]
    [Trait("source", "IEEE 754-2019: binary32 patterns of the standard's formats")]
    [InlineData(0x3F80, 0x0000, 1)]
    [InlineData(0xBF80, 0x0000, -1)]
    [InlineData(0x41CC, 0x0000, 25.5)]
    [InlineData(0x42C8, 0x0000, 100)]
    [InlineData(0xC2ED, 0x4000, -118.625)]
    [InlineData(0x5015, 0x02F9, 1e10)]
    [InlineData(0x7F80, 0x0000, double.PositiveInfinity)]
    [InlineData(0x7FC0, 0x0000, double.NaN)]
    public void Single_precision_follows_the_standard(int high, int low, double value)
    {
        RawCodec.Read([(ushort)high, (ushort)low], RawType.Float32, WordOrder.HighFirst).ShouldBe(value);
        RawCodec.Read([(ushort)low, (ushort)high], RawType.Float32, WordOrder.LowFirst).ShouldBe(value);
    }

    [Theory]
    [Trait("source", "IEEE 754-2019 binary64 of 123.456; orders by byte letters")]
    [InlineData(WordOrder.HighFirst, "405E DD2F 1A9F BE77")]
    [InlineData(WordOrder.LowFirst, "BE77 1A9F DD2F 405E")]
    [InlineData(WordOrder.HighFirstSwapped, "5E40 2FDD 9F1A 77BE")]
    [InlineData(WordOrder.LowFirstSwapped, "77BE 9F1A 2FDD 5E40")]
    public void Double_precision_comes_in_four_orders(WordOrder order, string words)
    {
        RawCodec.Read(Words(words), RawType.Float64, order).ShouldBe(123.456);
        Written(123.456, RawType.Float64, order).ShouldBe(Words(words));
    }

    [Theory]
    [Trait("source", "two's complement and unsigned binary, IEC 61131-3:2013 elementary types")]
    [InlineData(RawType.UInt64, "1122 10F4 7DE9 8115", 1234567890123456789d)]
    [InlineData(RawType.Int64, "FFFF FFFF FFFF FFFE", -2)]
    [InlineData(RawType.Int8, "00FF", -1)]
    [InlineData(RawType.UInt8, "12FF", 255)]
    [InlineData(RawType.Bcd16, "1234", 1234)]
    [InlineData(RawType.Bcd32, "1234 5678", 12345678)]
    public void Integers_and_bcd_are_read_by_their_type(RawType type, string words, double value) =>
        RawCodec.Read(Words(words), type, WordOrder.HighFirst).ShouldBe(value);

    [Fact]
    public void A_nibble_above_nine_is_no_digit() =>
        double.IsNaN(RawCodec.Read([0x12A4], RawType.Bcd16, WordOrder.HighFirst)).ShouldBeTrue();

    [Theory]
    [InlineData(32768, RawType.Int16)]
    [InlineData(-1, RawType.UInt8)]
    [InlineData(128, RawType.Int8)]
    [InlineData(10000, RawType.Bcd16)]
    [InlineData(-1, RawType.Bcd32)]
    [InlineData(9.3e18, RawType.Int64)]
    [InlineData(1.9e19, RawType.UInt64)]
    [InlineData(double.NaN, RawType.Int64)]
    [InlineData(double.PositiveInfinity, RawType.UInt16)]
    [InlineData(1e39, RawType.Float32)]
    public void What_does_not_fit_is_refused_with_the_range_of_the_type(double value, RawType type)
    {
        ushort[] words = [7, 7, 7, 7];
        RawCodec.TryWrite(value, type, WordOrder.HighFirst, words).ShouldBeFalse();
        words.ShouldBe(new ushort[] { 7, 7, 7, 7 });
        RawCodec.WhyNot(value, type)!.ShouldContain(type.Word());
    }

    [Fact]
    [Trait("source", "arithmetic: with 0, 1, 31, 32, 63 and 255 set of 256 booleans the words are 80000003 80000001 0 0 0 0 0 80000000")]
    public void Packed_booleans_lie_32_to_a_word()
    {
        RawCodec.WordsOf(RawType.Bool, 256).ShouldBe(16);
        var words = Words("8000 0003 8000 0001 0000 0000 0000 0000 0000 0000 0000 0000 0000 0000 8000 0000");
        Enumerable.Range(0, 256).Where(n => RawCodec.ReadPackedBool(words, n, WordOrder.HighFirst)).ShouldBe([0, 1, 31, 32, 63, 255]);
        var swapped = words.Chunk(2).SelectMany(w => w.Reverse()).ToArray();
        Enumerable.Range(0, 256).Where(n => RawCodec.ReadPackedBool(swapped, n, WordOrder.LowFirst)).ShouldBe([0, 1, 31, 32, 63, 255]);
    }

    [Fact]
    public void Text_has_a_fixed_length_and_ends_early_at_a_zero_byte()
    {
        var words = new ushort[4];
        RawCodec.TryWriteText("KLN-2", 8, WordOrder.HighFirst, words).ShouldBeTrue();
        words.ShouldBe(Words("4B4C 4E2D 3200 0000"));
        RawCodec.ReadText(words, 8, WordOrder.HighFirst).ShouldBe("KLN-2");
        RawCodec.TryWriteText("KLN-2", 8, WordOrder.HighFirstSwapped, words).ShouldBeTrue();
        RawCodec.ReadText(words, 8, WordOrder.HighFirstSwapped).ShouldBe("KLN-2");
        RawCodec.TryWriteText("too long a text", 8, WordOrder.HighFirst, words).ShouldBeFalse();
        RawCodec.TryWriteText("Kölsch", 8, WordOrder.HighFirst, words).ShouldBeFalse();
        RawCodec.ReadText([0x4101, 0xFF42], 4, WordOrder.HighFirst).ShouldBe("A??B");
    }

    [Fact]
    public void Written_and_read_is_the_same_for_every_type_and_order()
    {
        RawType[] types =
        [
            RawType.Int8,
            RawType.UInt8,
            RawType.Int16,
            RawType.UInt16,
            RawType.Int32,
            RawType.UInt32,
            RawType.Float64,
            RawType.Bcd16,
            RawType.Bcd32,
        ];
        Gen.Select(Gen.Int[0, types.Length - 1], Gen.Enum<WordOrder>(), Gen.Double[0, 1])
            .Sample(
                (at, order, share) =>
                {
                    var range = types[at] == RawType.Float64 ? new Span(-1e300, 1e300) : types[at].RangeOf();
                    var value = types[at] == RawType.Float64 ? range.At(share) : Math.Round(range.At(share));
                    return RawCodec.Read(Written(value, types[at], order), types[at], order) == value;
                }
            );
    }

    [Fact]
    public void Bytes_that_were_read_are_written_as_they_were()
    {
        RawType[] types = [RawType.Int16, RawType.UInt16, RawType.Int32, RawType.UInt32, RawType.Float32, RawType.Float64];
        Gen.Select(Gen.Int[0, types.Length - 1], Gen.Enum<WordOrder>(), Gen.UShort.Array[4])
            .Sample(
                (at, order, bytes) =>
                {
                    var words = bytes[..types[at].Words()];
                    var value = RawCodec.Read(words, types[at], order);
                    // Not-a-number has many patterns; all of them mean the same.
                    return double.IsNaN(value) || Written(value, types[at], order).SequenceEqual(words);
                }
            );
    }

    [Theory]
    [InlineData(RawType.Int8)]
    [InlineData(RawType.UInt8)]
    [InlineData(RawType.Bcd16)]
    [InlineData(RawType.Bcd32)]
    [InlineData(RawType.Int64)]
    [InlineData(RawType.UInt64)]
    public void So_are_those_of_the_types_that_do_not_use_every_pattern(RawType type) =>
        Gen.Select(Gen.Enum<WordOrder>(), Gen.ULong)
            .Sample(
                (order, seed) =>
                {
                    // One byte in a word; digits up to nine; of 64-bit numbers the 53 bits double precision keeps.
                    var bits = type switch
                    {
                        RawType.Int8 or RawType.UInt8 => seed & 0xFF,
                        RawType.Bcd16 => Convert.ToUInt64((seed % 10_000).ToString(CultureInfo.InvariantCulture), 16),
                        RawType.Bcd32 => Convert.ToUInt64((seed % 100_000_000).ToString(CultureInfo.InvariantCulture), 16),
                        RawType.Int64 => (ulong)((long)seed >> 11),
                        _ => seed >> 11,
                    };
                    ushort[] words = [.. Enumerable.Range(0, type.Words()).Select(i => (ushort)(bits >> (16 * (type.Words() - 1 - i))))];
                    if (order.IsLowFirst())
                        Array.Reverse(words);
                    if (order.IsSwapped())
                        words = [.. words.Select(w => (ushort)((w << 8) | (w >> 8)))];
                    return Written(RawCodec.Read(words, type, order), type, order).SequenceEqual(words);
                }
            );

    [Theory]
    [InlineData("[12]", 12, null, 1)]
    [InlineData(".4", null, 4, 1)]
    [InlineData(".4-6", null, 4, 3)]
    [InlineData("[2].0-3", 2, 0, 4)]
    public void A_slice_is_written_as_it_is_read(string text, int? element, int? bit, int count)
    {
        var slice = Slice.Parse(text)!.Value;
        slice.ShouldBe(new Slice(element, bit, count));
        slice.ToString().ShouldBe(text);
    }

    [Theory]
    [InlineData("")]
    [InlineData("4")]
    [InlineData("[x]")]
    [InlineData("[1")]
    [InlineData(".6-4")]
    [InlineData(".0-40")]
    [InlineData("[-1]")]
    [InlineData(".1 and more")]
    public void What_is_no_slice_is_none(string text) => Slice.Parse(text).ShouldBeNull();

    [Fact]
    public void Bits_are_counted_from_the_least_significant_and_signs_do_not_disturb()
    {
        new Slice(null, 4, 3).BitsOf(0b0101_0011).ShouldBe(5);
        new Slice(null, 15).BitsOf(-1).ShouldBe(1);
        new Slice(null, 0, 32).BitsOf(4294967295).ShouldBe(4294967295);
        Slice.Overlap(new(null, 0, 3), new(null, 2)).ShouldBeTrue();
        Slice.Overlap(new(null, 0, 3), new(null, 3)).ShouldBeFalse();
        Slice.Overlap(new(1), new(2)).ShouldBeFalse();
        Slice.Overlap(null, new(2)).ShouldBeTrue();
    }

    private static ushort[] Words(string hex) => [.. hex.Split(' ').Select(w => Convert.ToUInt16(w, 16))];

    private static ushort[] Written(double value, RawType type, WordOrder order)
    {
        var words = new ushort[type.Words()];
        RawCodec.TryWrite(value, type, order, words).ShouldBeTrue($"{value} as {type}");
        return words;
    }
}
