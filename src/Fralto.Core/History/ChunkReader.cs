using System.Buffers.Binary;
using System.IO.Hashing;
using Fralto.Core.Quality;

namespace Fralto.Core.History;

/// <summary>Reads chunks.</summary>
public static class ChunkReader
{
    /// <summary>The values of a chunk, in the order they were added.</summary>
    /// <param name="bytes">The chunk.</param>
    /// <param name="into">Where they are added.</param>
    /// <returns>What is wrong with the chunk, in words; null when it is whole. Nothing is added then.</returns>
    public static string? Read(ReadOnlySpan<byte> bytes, List<HistorySample> into)
    {
        if (bytes.Length < 16)
            return "it is too short to be a chunk";
        if (bytes[0] != ChunkWriter.Version)
            return $"its format has the version {bytes[0]}; this program reads {ChunkWriter.Version}";
        if (Crc32.HashToUInt32(bytes[..^4]) != BinaryPrimitives.ReadUInt32LittleEndian(bytes[^4..]))
            return "its checksum is wrong";
        var before = into.Count;
        try
        {
            ReadWhole(bytes[..^4], into);
            return null;
        }
        catch (Exception e) when (e is InvalidDataException or ArgumentException or IndexOutOfRangeException)
        {
            into.RemoveRange(before, into.Count - before);
            return $"it cannot be read: {e.Message}";
        }
    }

    private static void ReadWhole(ReadOnlySpan<byte> bytes, List<HistorySample> into)
    {
        var head = new ByteReader(bytes[1..]);
        var flags = head.Byte();
        var (isFloat, unit) = ((flags & 1) != 0, (flags & 2) != 0 ? 1 : TimeSpan.TicksPerMillisecond);
        var count = head.Int();
        var ticks = head.Int64();
        var qualities = new (StatusCode Status, string? Reason, bool Holds, bool IsText)[head.Int()];
        for (var i = 0; i < qualities.Length; i++)
        {
            var (status, kind) = (new StatusCode(head.UInt32()), head.Byte());
            qualities[i] = (status, (kind & 4) != 0 ? head.Text() : null, (kind & 1) != 0, (kind & 2) != 0);
        }
        var texts = new string[head.Int()];
        for (var i = 0; i < texts.Length; i++)
            texts[i] = head.Text();
        var bits = new BitReader(head.Rest);
        var (delta, whole, last, leading, length, quality, text) = (0L, 0L, 0UL, 0, 0, 0, 0);
        into.EnsureCapacity(into.Count + count);
        for (var i = 0; i < count; i++)
        {
            var isHeld = !bits.ReadBit();
            if (i > 0)
            {
                if (!isHeld)
                    delta += Signed(ref bits, 7, 12, 20, 32);
                ticks += delta * unit;
            }
            if (isHeld)
            {
                if (i == 0)
                    throw new InvalidDataException("The first value says it is as the one before.");
                into.Add(into[^1] with { Ticks = ticks });
                continue;
            }
            if (bits.ReadBit())
                quality = (int)bits.Read(8);
            var (status, reason, holds, isText) = qualities[quality];
            if (isText)
            {
                if (bits.ReadBit())
                    text = (int)bits.Read(8);
                into.Add(new(ticks, double.NaN, status, reason, texts[text]));
                continue;
            }
            var number = double.NaN;
            if (holds && !isFloat)
                number = whole += Signed(ref bits, 4, 8, 12, 20);
            else if (holds)
            {
                if (bits.ReadBit())
                {
                    if (bits.ReadBit())
                        (leading, length) = ((int)bits.Read(5), (int)bits.Read(6) + 1);
                    last ^= bits.Read(length) << (64 - leading - length);
                }
                number = BitConverter.UInt64BitsToDouble(last);
            }
            into.Add(new(ticks, number, status, reason));
        }
    }

    private static long Signed(ref BitReader bits, int small, int middle, int large, int huge)
    {
        if (!bits.ReadBit())
            return 0;
        var size =
            !bits.ReadBit() ? small
            : !bits.ReadBit() ? middle
            : !bits.ReadBit() ? large
            : !bits.ReadBit() ? huge
            : 64;
        var folded = bits.Read(size);
        return (long)(folded >> 1) ^ -(long)(folded & 1);
    }
}
