using System.Runtime.InteropServices;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;

namespace Fralto.Links;

/// <summary>Samples of one controller on their way to the engine. Bounded: when the engine falls behind, the newest sample of each tag
/// wins, and what it overtook is counted.</summary>
/// <remarks>Every controller has its own, so that one that floods takes no room from another.</remarks>
public sealed class SampleMailbox(int capacity = SampleMailbox.DefaultCapacity)
{
    /// <summary>Samples that may wait before older ones are overtaken.</summary>
    public const int DefaultCapacity = 200_000;

    private readonly Lock _lock = new();
    private readonly Queue<SampleBatch> _waiting = new();
    private readonly Dictionary<(long TagId, int Element), Sample> _newest = [];
    private Moment _newestArrived;
    private int _count;
    private long _dropped;

    /// <summary>Samples overtaken so far.</summary>
    public long Dropped => Interlocked.Read(ref _dropped);

    /// <summary>Puts samples in, in the order they were taken.</summary>
    public void Post(SampleBatch batch)
    {
        if (batch.Samples.Length == 0)
            return;
        lock (_lock)
        {
            _waiting.Enqueue(batch);
            _count += batch.Samples.Length;
            while (_count > capacity && _waiting.TryDequeue(out var oldest))
            {
                _count -= oldest.Samples.Length;
                if (oldest.IsHistorical)
                {
                    _dropped += oldest.Samples.Length;
                    continue;
                }
                _newestArrived = oldest.Arrived;
                foreach (var sample in oldest.Samples)
                {
                    ref var kept = ref CollectionsMarshal.GetValueRefOrAddDefault(
                        _newest,
                        (sample.TagId, sample.Element),
                        out var overtakes
                    );
                    kept = sample;
                    if (overtakes)
                        _dropped++;
                }
            }
        }
    }

    /// <summary>Takes samples out, oldest first.</summary>
    /// <param name="most">About how many; a batch is never torn.</param>
    /// <param name="batches">Where they are added.</param>
    /// <returns>When the oldest of what is left arrived, in engine time; null when nothing is left.</returns>
    public long? Take(int most, List<SampleBatch> batches)
    {
        lock (_lock)
        {
            if (_newest.Count > 0)
            {
                batches.Add(new([.. _newest.Values], _newestArrived));
                most -= _newest.Count;
                _newest.Clear();
            }
            while (most > 0 && _waiting.TryDequeue(out var batch))
            {
                batches.Add(batch);
                most -= batch.Samples.Length;
                _count -= batch.Samples.Length;
            }
            return _waiting.TryPeek(out var left) ? left.Arrived.Ticks : null;
        }
    }
}
