using System.Buffers.Binary;
using System.IO.Hashing;
using System.Numerics;

namespace Fralto.Core.History;

/// <summary>Packs values of one point as they come, some hundred to a chunk: times as delta of delta, whole numbers by their difference,
/// others
/// by what differs in their bits, quality and text once each.</summary>
/// <remarks>The format is docs/history-format.md. XOR of floating-point numbers: Pelkonen et al., Gorilla, VLDB 2015, section
/// 4.1.</remarks>
public sealed class ChunkWriter
{
    /// <summary>Most values a chunk holds.</summary>
    public const int MostSamples = 512;

    /// <summary>The longest stretch of time in a chunk, in ticks: a day, so that whoever looks for a time looks no further.</summary>
    public const long LongestSpan = TimeSpan.TicksPerDay;

    /// <summary>Version of the format.</summary>
    public const byte Version = 1;

    private const int MostBytes = 8192;
    private const int MostEntries = 250;
    private const int MostText = 32_768;

    private readonly BitWriter _bits = new();
    private readonly List<QualityEntry> _qualities = [];
    private List<string>? _texts;
    private long _unit = TimeSpan.TicksPerMillisecond;
    private long _firstTicks;
    private long _lastTicks;
    private long _lastDelta;
    private long _lastWhole;
    private ulong _lastBits;
    private int _leading = -1;
    private int _trailing;
    private int _quality;
    private int _text = -1;
    private int _textLength;
    private bool _isFloat;

    /// <summary>How many values it holds.</summary>
    public int Count { get; private set; }

    /// <summary>Time of the first value.</summary>
    public long FirstTicks => _firstTicks;

    /// <summary>Time of the newest value.</summary>
    public long LastTicks => _lastTicks;

    /// <summary>Room it takes in memory, in bytes, without what texts take.</summary>
    public int Capacity => _bits.Capacity;

    /// <summary>Adds a value.</summary>
    /// <param name="sample">A value that is not older than the newest one.</param>
    /// <returns>False when it does not fit: the chunk is full, or the value needs another one. Nothing has changed then.</returns>
    public bool TryAdd(in HistorySample sample)
    {
        if (Count == 0)
            Begin(in sample);
        else if (
            Count >= MostSamples
            || _bits.Length > MostBytes
            || sample.Ticks - _firstTicks > LongestSpan
            || sample.Ticks < _lastTicks
            || (_unit != 1 && sample.Ticks % _unit != 0)
            || (!_isFloat && Holds(sample) && !IsWhole(sample.Number))
        )
            return false;
        var (quality, text) = (QualityOf(in sample), TextOf(sample.Text));
        if (quality < 0 || text == int.MinValue)
            return false;
        var delta = Count == 0 ? 0 : (sample.Ticks - _lastTicks) / _unit;
        // Most often nothing has changed, and the time is when it was to be: one bit says so.
        if (Count > 0 && delta == _lastDelta && quality == _quality && IsHeld(in sample, quality, text))
        {
            _bits.Write(0, 1);
            _lastTicks = sample.Ticks;
            Count++;
            return true;
        }
        _bits.Write(1, 1);
        if (Count > 0)
            WriteSigned(delta - _lastDelta, 7, 12, 20, 32);
        (_lastTicks, _lastDelta) = (sample.Ticks, delta);
        WriteQuality(quality);
        if (text >= 0)
            WriteText(text);
        else if (_qualities[quality].Holds)
            WriteNumber(sample.Number);
        Count++;
        return true;
    }

    /// <summary>The chunk as it is kept; more can be added afterwards.</summary>
    public byte[] ToBytes()
    {
        var head = new ByteWriter();
        head.Byte(Version);
        head.Byte((byte)((_isFloat ? 1 : 0) | (_unit == 1 ? 2 : 0)));
        head.Int(Count);
        head.Int64(_firstTicks);
        head.Int(_qualities.Count);
        foreach (var entry in _qualities)
        {
            head.UInt32(entry.Status);
            head.Byte((byte)((entry.Holds ? 1 : 0) | (entry.IsText ? 2 : 0) | (entry.Reason is null ? 0 : 4)));
            if (entry.Reason is not null)
                head.Text(entry.Reason);
        }
        head.Int(_texts?.Count ?? 0);
        foreach (var text in _texts ?? [])
            head.Text(text);
        var bytes = new byte[head.Written.Length + _bits.Length + sizeof(uint)];
        head.Written.CopyTo(bytes);
        _bits.CopyTo(bytes.AsSpan(head.Written.Length));
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(bytes.Length - 4), Crc32.HashToUInt32(bytes.AsSpan(0, bytes.Length - 4)));
        return bytes;
    }

    /// <summary>Begins anew.</summary>
    public void Clear()
    {
        _bits.Clear();
        _qualities.Clear();
        _texts = null;
        Count = 0;
    }

    private void Begin(in HistorySample sample)
    {
        _bits.Clear();
        _qualities.Clear();
        (_texts, _textLength) = (null, 0);
        _unit = sample.Ticks % TimeSpan.TicksPerMillisecond == 0 ? TimeSpan.TicksPerMillisecond : 1;
        (_firstTicks, _lastTicks, _lastDelta) = (sample.Ticks, sample.Ticks, 0);
        (_lastWhole, _lastBits, _leading, _trailing) = (0, 0, -1, 0);
        (_quality, _text) = (-1, -1);
        // What was not whole once may be whole by chance.
        _isFloat |= Holds(sample) && !IsWhole(sample.Number);
    }

    /// <summary>Not-a-number of something Bad is no number at all, and takes no room.</summary>
    private static bool Holds(in HistorySample sample) =>
        sample.Text is null
        && !(sample.Status.IsBad && BitConverter.DoubleToInt64Bits(sample.Number) == BitConverter.DoubleToInt64Bits(double.NaN));

    /// <summary>Whole, and small enough that differences are whole, too; minus zero is none.</summary>
    private static bool IsWhole(double number) =>
        Math.Abs(number) <= 1L << 52 && BitConverter.DoubleToInt64Bits((long)number) == BitConverter.DoubleToInt64Bits(number);

    private bool IsHeld(in HistorySample sample, int quality, int text) =>
        text >= 0 ? text == _text
        : !_qualities[quality].Holds ? true
        : _isFloat ? BitConverter.DoubleToUInt64Bits(sample.Number) == _lastBits
        : (long)sample.Number == _lastWhole;

    private int QualityOf(in HistorySample sample)
    {
        var entry = new QualityEntry(sample.Status.Value, sample.Reason, Holds(sample), sample.Text is not null);
        if (_quality >= 0 && _qualities[_quality] == entry)
            return _quality;
        var index = _qualities.IndexOf(entry);
        if (index >= 0)
            return index;
        if (_qualities.Count >= MostEntries)
            return -1;
        _qualities.Add(entry);
        return _qualities.Count - 1;
    }

    private void WriteQuality(int index)
    {
        if (index == _quality)
        {
            _bits.Write(0, 1);
            return;
        }
        _bits.Write(1, 1);
        _bits.Write((ulong)index, 8);
        _quality = index;
    }

    private int TextOf(string? text)
    {
        if (text is null)
            return -1;
        _texts ??= [];
        var index = _texts.IndexOf(text);
        if (index >= 0)
            return index;
        if (_texts.Count >= MostEntries || (_textLength > 0 && _textLength + text.Length > MostText))
            return int.MinValue;
        _texts.Add(text);
        _textLength += text.Length;
        return _texts.Count - 1;
    }

    private void WriteText(int index)
    {
        if (index == _text)
        {
            _bits.Write(0, 1);
            return;
        }
        _bits.Write(1, 1);
        _bits.Write((ulong)index, 8);
        _text = index;
    }

    private void WriteNumber(double number)
    {
        if (!_isFloat)
        {
            var whole = (long)number;
            WriteSigned(whole - _lastWhole, 4, 8, 12, 20);
            _lastWhole = whole;
            return;
        }
        var bits = BitConverter.DoubleToUInt64Bits(number);
        var differs = bits ^ _lastBits;
        _lastBits = bits;
        if (differs == 0)
        {
            _bits.Write(0, 1);
            return;
        }
        var (leading, trailing) = (Math.Min(31, BitOperations.LeadingZeroCount(differs)), BitOperations.TrailingZeroCount(differs));
        if (_leading >= 0 && leading >= _leading && trailing >= _trailing)
        {
            _bits.Write(0b10, 2);
            _bits.Write(differs >> _trailing, 64 - _leading - _trailing);
            return;
        }
        (_leading, _trailing) = (leading, trailing);
        _bits.Write(0b11, 2);
        _bits.Write((ulong)leading, 5);
        _bits.Write((ulong)(64 - leading - trailing - 1), 6);
        _bits.Write(differs >> trailing, 64 - leading - trailing);
    }

    /// <summary>A signed number in as few bits as its size needs: one bit for zero, else a class and so many bits.</summary>
    private void WriteSigned(long number, int small, int middle, int large, int huge)
    {
        if (number == 0)
        {
            _bits.Write(0, 1);
            return;
        }
        var folded = ((ulong)number << 1) ^ (ulong)(number >> 63);
        var size = 64 - BitOperations.LeadingZeroCount(folded);
        if (size <= small)
        {
            _bits.Write(0b10, 2);
            _bits.Write(folded, small);
        }
        else if (size <= middle)
        {
            _bits.Write(0b110, 3);
            _bits.Write(folded, middle);
        }
        else if (size <= large)
        {
            _bits.Write(0b1110, 4);
            _bits.Write(folded, large);
        }
        else if (size <= huge)
        {
            _bits.Write(0b11110, 5);
            _bits.Write(folded, huge);
        }
        else
        {
            _bits.Write(0b11111, 5);
            _bits.Write(folded, 64);
        }
    }

    private readonly record struct QualityEntry(uint Status, string? Reason, bool Holds, bool IsText);
}
