using System.Buffers.Binary;
using System.Text;

namespace Fralto.Core.History;

/// <summary>Reads what a <see cref="ByteWriter"/> has written.</summary>
internal ref struct ByteReader(ReadOnlySpan<byte> bytes)
{
    private const int Most = 1 << 20;

    private ReadOnlySpan<byte> _bytes = bytes;

    /// <summary>What has not been read.</summary>
    public readonly ReadOnlySpan<byte> Rest => _bytes;

    public byte Byte() => Take(1)[0];

    /// <exception cref="InvalidDataException">It is no length, or too large to be one.</exception>
    public int Int()
    {
        var (value, shift) = (0, 0);
        while (true)
        {
            if (shift > 28)
                throw new InvalidDataException("A length is none.");
            var next = Byte();
            value |= (next & 0x7F) << shift;
            if ((next & 0x80) == 0)
                return value is >= 0 and <= Most ? value : throw new InvalidDataException("A length is out of bounds.");
            shift += 7;
        }
    }

    public uint UInt32() => BinaryPrimitives.ReadUInt32LittleEndian(Take(4));

    public long Int64() => BinaryPrimitives.ReadInt64LittleEndian(Take(8));

    public double Double() => BitConverter.Int64BitsToDouble(Int64());

    public string Text() => Encoding.UTF8.GetString(Take(Int()));

    private ReadOnlySpan<byte> Take(int count)
    {
        if (count > _bytes.Length)
            throw new InvalidDataException("It ends too early.");
        var taken = _bytes[..count];
        _bytes = _bytes[count..];
        return taken;
    }
}
