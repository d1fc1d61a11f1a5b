using Fralto.Core.Alarms;
using Fralto.Core.Recording;

namespace Fralto.Core.Engine;

/// <summary>What the engine has put out since it was last cleared: which points and tags are no longer what they were, and what happened to
/// alarms.</summary>
public sealed class EngineOutput
{
    private ulong[] _points = [];
    private ulong[] _tags = [];

    /// <summary>Steps of alarms, in the order they came.</summary>
    public List<AlarmEvent> Events { get; } = [];

    /// <summary>Values of recorded points as they came; empty while nobody records. Whoever takes them puts an empty list in their
    /// place.</summary>
    public List<Recorded> Records { get; set; } = [];

    /// <summary>Points whose value, status, reason or limits exceeded have changed; each once, in the order of the first change.</summary>
    public List<int> Points { get; } = [];

    /// <summary>Tags whose raw number, text, status or reason has changed; each once, in the order of the first change.</summary>
    public List<int> Tags { get; } = [];

    /// <summary>Takes note of a point.</summary>
    public void AddPoint(int index) => Add(index, _points, Points);

    /// <summary>Takes note of a tag.</summary>
    public void AddTag(int index) => Add(index, _tags, Tags);

    /// <summary>Begins anew for a plan of so many points and tags.</summary>
    public void Fit(int points, int tags)
    {
        (_points, _tags) = (new ulong[(points + 63) / 64], new ulong[(tags + 63) / 64]);
        Points.Clear();
        Tags.Clear();
    }

    /// <summary>Forgets which points and tags have changed; the events stay until they are taken.</summary>
    public void ClearChanges()
    {
        foreach (var index in Points)
            _points[index >> 6] = 0;
        foreach (var index in Tags)
            _tags[index >> 6] = 0;
        Points.Clear();
        Tags.Clear();
    }

    private static void Add(int index, ulong[] listed, List<int> list)
    {
        ref var word = ref listed[index >> 6];
        var bit = 1UL << (index & 63);
        if ((word & bit) != 0)
            return;
        word |= bit;
        list.Add(index);
    }
}
