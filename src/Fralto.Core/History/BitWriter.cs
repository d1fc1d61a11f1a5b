using System.Buffers.Binary;

namespace Fralto.Core.History;

/// <summary>Bits one after the other, the highest of each byte first, in an array that grows.</summary>
public sealed class BitWriter
{
    private const int FirstBytes = 48;

    private byte[] _bytes = new byte[FirstBytes];
    private ulong _open;
    private int _openBits;
    private int _length;

    /// <summary>Whole bytes so far, and one more where some bits are open.</summary>
    public int Length => _length + (_openBits + 7) / 8;

    /// <summary>Room it takes, in bytes.</summary>
    public int Capacity => _bytes.Length;

    /// <summary>Writes the lowest bits of a number, the highest of them first.</summary>
    /// <param name="value">The number; bits above the count must be zero.</param>
    /// <param name="count">How many bits, 0 to 64.</param>
    public void Write(ulong value, int count)
    {
        if (_openBits + count > 64)
        {
            var first = 64 - _openBits;
            Write(value >> (count - first), first);
            count -= first;
            value &= count == 64 ? ulong.MaxValue : (1UL << count) - 1;
        }
        _open = count == 64 ? value : (_open << count) | value;
        _openBits += count;
        if (_openBits < 64)
            return;
        if (_length + 8 > _bytes.Length)
            Array.Resize(ref _bytes, _bytes.Length + Math.Max(8, _bytes.Length / 2));
        BinaryPrimitives.WriteUInt64BigEndian(_bytes.AsSpan(_length), _open);
        (_length, _open, _openBits) = (_length + 8, 0, 0);
    }

    /// <summary>Copies what has been written; bits of the last byte that nobody has written are zero.</summary>
    public void CopyTo(Span<byte> target)
    {
        _bytes.AsSpan(0, _length).CopyTo(target);
        if (_openBits == 0)
            return;
        Span<byte> rest = stackalloc byte[8];
        BinaryPrimitives.WriteUInt64BigEndian(rest, _open << (64 - _openBits));
        rest[..((_openBits + 7) / 8)].CopyTo(target[_length..]);
    }

    /// <summary>Begins anew in the same array.</summary>
    public void Clear() => (_length, _open, _openBits) = (0, 0, 0);
}
