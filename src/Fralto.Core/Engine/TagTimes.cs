using Fralto.Core.Quality;

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

    /// <summary>How good the newest reading of a tag is, how often the tag has held something new, and its raw number: as of now, and
    /// without the rest of the reading, for whoever looks at very many. BadWaitingForInitialData for a tag the engine does not
    /// have.</summary>
    /// <param name="tag">The tag, by its number in the plan.</param>
    public (StatusCode Status, int Changes, double Raw) Brief(int tag) =>
        _tags is not null && tag >= 0 && tag < _tags.Length
            ? (_tags[tag].Status, _tags[tag].Changes, _tags[tag].Raw)
            : (StatusCode.BadWaitingForInitialData, 0, double.NaN);
}
