using CsCheck;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

public sealed class ScalingTests
{
    [Theory]
    [Trait("source", "common practice, no source: two-point scaling of a 4...20 mA signal")]
    [InlineData(4, 20, -50, 50, 4, -50)]
    [InlineData(4, 20, -50, 50, 8, -25)]
    [InlineData(4, 20, -50, 50, 12, 0)]
    [InlineData(4, 20, -50, 50, 20, 50)]
    [InlineData(4, 20, -50, 50, 3.6, -52.5)]
    [InlineData(4, 20, -50, 50, 20.5, 53.125)]
    [InlineData(0, 10, -10, 10, 2.5, -5)]
    [InlineData(0, 10, -10, 10, 5, 0)]
    [InlineData(0, 10, -10, 10, 7.5, 5)]
    [InlineData(0, 27648, 0, 16, 6912, 4)]
    [InlineData(20, 4, 0, 100, 20, 0)]
    [InlineData(20, 4, 0, 100, 8, 75)]
    public void Two_points_make_a_line(double rawLow, double rawHigh, double low, double high, double raw, double expected)
    {
        var scale = new LinearScale(new Span(rawLow, rawHigh), new(low, high));
        scale.ToEngineering(raw).ShouldBe(expected, 1e-9);
        scale.ToRaw(expected).ShouldBe(raw, 1e-9);
    }

    [Fact]
    public void A_scale_is_exact_at_both_ends_whatever_the_ends_are() =>
        Gen.Select(Gen.Double[-1e9, 1e9], Gen.Double[-1e9, 1e9], Gen.Double[-1e9, 1e9], Gen.Double[-1e9, 1e9])
            .Where((a, b, _, _) => a != b)
            .Sample(
                (rawLow, rawHigh, low, high) =>
                {
                    var scale = new LinearScale(new Span(rawLow, rawHigh), new(low, high));
                    return scale.ToEngineering(rawLow) == low && scale.ToEngineering(rawHigh) == high;
                }
            );

    [Theory]
    [Trait("source", "IEEE 754-2019 binary32 of 123.456; orders as Modbus devices send them (common practice, no source)")]
    [InlineData(WordOrder.HighFirst, 0x42F6, 0xE979)]
    [InlineData(WordOrder.LowFirst, 0xE979, 0x42F6)]
    [InlineData(WordOrder.HighFirstSwapped, 0xF642, 0x79E9)]
    [InlineData(WordOrder.LowFirstSwapped, 0x79E9, 0xF642)]
    public void A_float_is_two_words_in_the_devices_order(WordOrder order, int first, int second)
    {
        ushort[] words = [(ushort)first, (ushort)second];
        RawCodec.Read(words, RawType.Float32, order).ShouldBe(123.456, 1e-5);
        var written = new ushort[2];
        RawCodec.TryWrite(123.456, RawType.Float32, order, written).ShouldBeTrue();
        written.ShouldBe(words);
    }

    [Fact]
    [Trait("source", "two's complement: -123456789 is F8A432EB")]
    public void Integers_keep_their_sign()
    {
        RawCodec.Read([0xF8A4, 0x32EB], RawType.Int32, WordOrder.HighFirst).ShouldBe(-123456789);
        RawCodec.Read([0xF8A4, 0x32EB], RawType.UInt32, WordOrder.HighFirst).ShouldBe(4171510507);
        RawCodec.Read([0xFFFF], RawType.Int16, WordOrder.HighFirst).ShouldBe(-1);
        RawCodec.Read([0xFFFF], RawType.UInt16, WordOrder.HighFirst).ShouldBe(65535);
    }

    [Fact]
    public void Every_integer_type_reads_back_what_it_wrote() =>
        Gen.Select(Gen.Int, Gen.Bool.Select(low => low ? WordOrder.LowFirst : WordOrder.HighFirst))
            .Sample(
                (value, order) =>
                {
                    var words = new ushort[2];
                    return RawCodec.TryWrite(value, RawType.Int32, order, words) && RawCodec.Read(words, RawType.Int32, order) == value;
                }
            );

    [Theory]
    [InlineData(32768, RawType.Int16)]
    [InlineData(-1, RawType.UInt16)]
    [InlineData(4294967296, RawType.UInt32)]
    [InlineData(2, RawType.Bool)]
    [InlineData(double.NaN, RawType.Int16)]
    [InlineData(1e39, RawType.Float32)]
    public void A_number_that_does_not_fit_its_type_is_refused_and_nothing_is_written(double value, RawType type)
    {
        ushort[] words = [7, 7];
        RawCodec.TryWrite(value, type, WordOrder.HighFirst, words).ShouldBeFalse();
        words.ShouldBe(new ushort[] { 7, 7 });
    }

    [Theory]
    [InlineData(0, 120, 1)]
    [InlineData(0, 100, 1)]
    [InlineData(0, 800, 0)]
    [InlineData(0, 3.2, 2)]
    [InlineData(0, 32767, 0)]
    public void Decimals_follow_the_range(double low, double high, int decimals) =>
        Resolution.DecimalsOf(new Span(low, high)).ShouldBe(decimals);
}
