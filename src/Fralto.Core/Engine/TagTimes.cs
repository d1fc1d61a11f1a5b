namespace Fralto.Core.Engine;

/// <summary>The times of a plan's tags as they go on while the engine runs; read from any thread.</summary>
public readonly struct TagTimes
{
    private readonly HotTag[]? _tags;

    internal TagTimes(HotTag[] tags) => _tags = tags;

    /// <summary>A reading with the times of now, when it is still what the engine holds; as it is when the tag has moved on
    /// since.</summary>
    public TagReading Refresh(int tag, TagReading reading)
    {
        if (_tags is null || tag >= _tags.Length)
            return reading;
        ref readonly var hot = ref _tags[tag];
        var (source, read) = (Volatile.Read(in hot.SourceTicks), Volatile.Read(in hot.ReadTicks));
        return
            Volatile.Read(in hot.ChangedTicks) == reading.ChangedAt.UtcTicks
            && hot.Status == reading.Status
            && ReferenceEquals(hot.Reason, reading.Reason)
            ? reading with
            {
                Time = new(source, TimeSpan.Zero),
                ReadAt = new(read, TimeSpan.Zero),
            }
            : reading;
    }
}
