using System.Buffers;
using System.Buffers.Binary;
using System.Text;

namespace Fralto.Core.History;

/// <summary>Numbers and texts one after the other: little-endian, lengths in seven bits a byte, texts in UTF-8 with their length before
/// them.</summary>
internal sealed class ByteWriter
{
    private readonly ArrayBufferWriter<byte> _bytes = new(256);

    /// <summary>What has been written.</summary>
    public ReadOnlySpan<byte> Written => _bytes.WrittenSpan;

    public void Byte(byte value)
    {
        _bytes.GetSpan(1)[0] = value;
        _bytes.Advance(1);
    }

    public void Int(int value)
    {
        for (var left = (uint)value; ; left >>= 7)
        {
            Byte((byte)(left >= 0x80 ? left | 0x80 : left));
            if (left < 0x80)
                return;
        }
    }

    public void UInt32(uint value)
    {
        BinaryPrimitives.WriteUInt32LittleEndian(_bytes.GetSpan(4), value);
        _bytes.Advance(4);
    }

    public void Int64(long value)
    {
        BinaryPrimitives.WriteInt64LittleEndian(_bytes.GetSpan(8), value);
        _bytes.Advance(8);
    }

    public void Double(double value) => Int64(BitConverter.DoubleToInt64Bits(value));

    public void Text(string text)
    {
        Int(Encoding.UTF8.GetByteCount(text));
        Encoding.UTF8.GetBytes(text, _bytes);
    }
}
