using System.Buffers.Binary;
using System.Collections.Immutable;

namespace Fralto.Core.Modbus;

/// <summary>Bits and registers to bytes and back: bits lowest first within each byte, registers high byte first.</summary>
public static class ModbusBits
{
    /// <summary>Bits packed into bytes, the first in the least significant place.</summary>
    public static byte[] Pack(ReadOnlySpan<bool> bits)
    {
        var bytes = new byte[(bits.Length + 7) / 8];
        for (var i = 0; i < bits.Length; i++)
            if (bits[i])
                bytes[i >> 3] |= (byte)(1 << (i & 7));
        return bytes;
    }

    /// <summary>The first bits of packed bytes, the least significant of each byte first.</summary>
    public static ImmutableArray<bool> Unpack(ReadOnlySpan<byte> bytes, int count)
    {
        var bits = ImmutableArray.CreateBuilder<bool>(count);
        for (var i = 0; i < count; i++)
            bits.Add((bytes[i >> 3] & (1 << (i & 7))) != 0);
        return bits.MoveToImmutable();
    }

    /// <summary>Words as bytes, the high byte of each first.</summary>
    public static byte[] Bytes(ReadOnlySpan<ushort> words)
    {
        var bytes = new byte[words.Length * 2];
        for (var i = 0; i < words.Length; i++)
            BinaryPrimitives.WriteUInt16BigEndian(bytes.AsSpan(i * 2), words[i]);
        return bytes;
    }

    /// <summary>Bytes as words, the high byte of each first.</summary>
    public static ImmutableArray<ushort> Words(ReadOnlySpan<byte> bytes)
    {
        var words = ImmutableArray.CreateBuilder<ushort>(bytes.Length / 2);
        for (var i = 0; i + 1 < bytes.Length; i += 2)
            words.Add(BinaryPrimitives.ReadUInt16BigEndian(bytes[i..]));
        return words.MoveToImmutable();
    }
}
