using System.Buffers.Binary;
using System.IO.Hashing;
using System.Text;

namespace Fralto.Core.History;

/// <summary>Values of many points as they came, one after the other: what makes open chunks durable.</summary>
public sealed class JournalWriter
{
    private const int LongestValue = 64;

    private byte[] _bytes = new byte[4096];
    private int _length;
    private long _lastTicks;

    /// <summary>How many values it holds.</summary>
    public int Count { get; private set; }

    /// <summary>Adds a value.</summary>
    /// <param name="series">The point's series.</param>
    /// <param name="scaling">The scaling the number is to be read with; 0 for none.</param>
    /// <param name="sample">The value.</param>
    /// <param name="isLate">True where it came after later ones.</param>
    public void Add(int series, int scaling, in HistorySample sample, bool isLate)
    {
        var most = LongestValue + 4 * ((sample.Reason?.Length ?? 0) + (sample.Text?.Length ?? 0));
        if (_length + most > _bytes.Length)
            Array.Resize(ref _bytes, Math.Max(_bytes.Length * 2, _length + most));
        Whole((ulong)series);
        var difference = sample.Ticks - _lastTicks;
        _lastTicks = sample.Ticks;
        Whole(((ulong)difference << 1) ^ (ulong)(difference >> 63));
        var flags =
            (sample.Status.Value != 0 ? 1 : 0)
            | (sample.Reason is not null ? 2 : 0)
            | (sample.Text is not null ? 4 : 0)
            | (scaling != 0 ? 8 : 0)
            | (isLate ? 16 : 0);
        _bytes[_length++] = (byte)flags;
        if (scaling != 0)
            Whole((ulong)scaling);
        if (sample.Status.Value != 0)
        {
            BinaryPrimitives.WriteUInt32LittleEndian(_bytes.AsSpan(_length), sample.Status.Value);
            _length += 4;
        }
        if (sample.Reason is not null)
            Text(sample.Reason);
        if (sample.Text is not null)
            Text(sample.Text);
        else
        {
            // The low bytes of round numbers are zero: they are left out.
            var bits = BinaryPrimitives.ReverseEndianness(BitConverter.DoubleToUInt64Bits(sample.Number));
            Whole(bits);
        }
        Count++;
    }

    /// <summary>What has been added, with a checksum; and begins anew.</summary>
    public byte[] Take()
    {
        var bytes = new byte[_length + 4];
        _bytes.AsSpan(0, _length).CopyTo(bytes);
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(_length), Crc32.HashToUInt32(bytes.AsSpan(0, _length)));
        (_length, Count, _lastTicks) = (0, 0, 0);
        return bytes;
    }

    /// <summary>Reads what was taken.</summary>
    /// <param name="bytes">The bytes.</param>
    /// <param name="add">Called for each value: series, scaling, value, whether it was late.</param>
    /// <returns>False when they are damaged; nothing has been called then.</returns>
    public static bool Read(ReadOnlySpan<byte> bytes, Action<int, int, HistorySample, bool> add)
    {
        if (bytes.Length < 4 || Crc32.HashToUInt32(bytes[..^4]) != BinaryPrimitives.ReadUInt32LittleEndian(bytes[^4..]))
            return false;
        bytes = bytes[..^4];
        var ticks = 0L;
        for (var at = 0; at < bytes.Length; )
        {
            var series = (int)Whole(bytes, ref at);
            var folded = Whole(bytes, ref at);
            ticks += (long)(folded >> 1) ^ -(long)(folded & 1);
            var flags = bytes[at++];
            var scaling = (flags & 8) != 0 ? (int)Whole(bytes, ref at) : 0;
            var status = 0u;
            if ((flags & 1) != 0)
            {
                status = BinaryPrimitives.ReadUInt32LittleEndian(bytes[at..]);
                at += 4;
            }
            var reason = (flags & 2) != 0 ? Text(bytes, ref at) : null;
            var text = (flags & 4) != 0 ? Text(bytes, ref at) : null;
            var number = text is null
                ? BitConverter.UInt64BitsToDouble(BinaryPrimitives.ReverseEndianness(Whole(bytes, ref at)))
                : double.NaN;
            add(series, scaling, new(ticks, number, new(status), reason, text), (flags & 16) != 0);
        }
        return true;
    }

    private void Whole(ulong value)
    {
        while (value >= 0x80)
        {
            _bytes[_length++] = (byte)(value | 0x80);
            value >>= 7;
        }
        _bytes[_length++] = (byte)value;
    }

    private static ulong Whole(ReadOnlySpan<byte> bytes, ref int at)
    {
        var (value, shift) = (0UL, 0);
        byte next;
        do
        {
            next = bytes[at++];
            value |= (ulong)(next & 0x7F) << shift;
            shift += 7;
        } while ((next & 0x80) != 0);
        return value;
    }

    private void Text(string text)
    {
        var length = Encoding.UTF8.GetByteCount(text);
        Whole((ulong)length);
        if (_length + length + LongestValue > _bytes.Length)
            Array.Resize(ref _bytes, _bytes.Length * 2 + length);
        _length += Encoding.UTF8.GetBytes(text, _bytes.AsSpan(_length));
    }

    private static string Text(ReadOnlySpan<byte> bytes, ref int at)
    {
        var length = (int)Whole(bytes, ref at);
        var text = Encoding.UTF8.GetString(bytes.Slice(at, length));
        at += length;
        return text;
    }
}
