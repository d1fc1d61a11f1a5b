using System.Buffers.Binary;

namespace Fralto.Core.History;

/// <summary>Reads what a <see cref="BitWriter"/> has written.</summary>
public ref struct BitReader(ReadOnlySpan<byte> bytes)
{
    private readonly ReadOnlySpan<byte> _bytes = bytes;
    private ulong _open;
    private int _openBits;
    private int _next;

    /// <summary>The next bits as a number.</summary>
    /// <param name="count">How many, 0 to 64.</param>
    /// <exception cref="InvalidDataException">There are not so many.</exception>
    public ulong Read(int count)
    {
        if (count <= _openBits)
            return Take(count);
        var value = 0UL;
        var left = count;
        if (_openBits > 0)
        {
            left -= _openBits;
            value = Take(_openBits);
        }
        Fill();
        if (left > _openBits)
            throw new InvalidDataException("The chunk ends in the middle of a value.");
        var rest = Take(left);
        return left == 64 ? rest : (value << left) | rest;
    }

    /// <summary>The next bit.</summary>
    public bool ReadBit() => Read(1) != 0;

    private ulong Take(int count)
    {
        if (count == 0)
            return 0;
        var value = _open >> (64 - count);
        _open = count == 64 ? 0 : _open << count;
        _openBits -= count;
        return value;
    }

    private void Fill()
    {
        var left = _bytes.Length - _next;
        if (left >= 8)
        {
            (_open, _openBits) = (BinaryPrimitives.ReadUInt64BigEndian(_bytes[_next..]), 64);
            _next += 8;
            return;
        }
        _open = 0;
        for (var i = 0; i < left; i++)
            _open |= (ulong)_bytes[_next + i] << (56 - 8 * i);
        _openBits = left * 8;
        _next = _bytes.Length;
    }
}
