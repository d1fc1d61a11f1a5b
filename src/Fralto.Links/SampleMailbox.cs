using System.Runtime.InteropServices;
using Fralto.Core.Engine;

namespace Fralto.Links;

/// <summary>Samples of one controller on their way to the engine. Bounded: when the engine falls behind, the newest sample of each tag wins, and what it overtook is counted.</summary>
/// <remarks>Every controller has its own, so that one that floods takes no room from another.</remarks>
public sealed class SampleMailbox(int capacity = SampleMailbox.DefaultCapacity)
{
    /// <summary>Samples that may wait before older ones are overtaken.</summary>
    public const int DefaultCapacity = 200_000;

    private readonly Lock _lock = new();
    private readonly Queue<Sample[]> _waiting = new();
    private readonly Dictionary<(long TagId, int Element), Sample> _newest = [];
    private int _count;
    private long _dropped;

    /// <summary>Samples overtaken so far.</summary>
    public long Dropped => Interlocked.Read(ref _dropped);

    /// <summary>Puts samples in, in the order they were taken.</summary>
    public void Post(Sample[] samples)
    {
        if (samples.Length == 0) return;
        lock (_lock)
        {
            _waiting.Enqueue(samples);
            _count += samples.Length;
            while (_count > capacity && _waiting.TryDequeue(out var oldest))
            {
                _count -= oldest.Length;
                foreach (var sample in oldest)
                {
                    ref var kept = ref CollectionsMarshal.GetValueRefOrAddDefault(_newest, (sample.TagId, sample.Element), out var overtakes);
                    kept = sample;
                    if (overtakes) _dropped++;
                }
            }
        }
    }

    /// <summary>Takes samples out, oldest first.</summary>
    /// <param name="most">About how many; a batch is never torn.</param>
    /// <param name="batches">Where they are added.</param>
    public void Take(int most, List<Sample[]> batches)
    {
        lock (_lock)
        {
            if (_newest.Count > 0)
            {
                batches.Add([.. _newest.Values]);
                most -= _newest.Count;
                _newest.Clear();
            }
            while (most > 0 && _waiting.TryDequeue(out var batch))
            {
                batches.Add(batch);
                most -= batch.Length;
                _count -= batch.Length;
            }
        }
    }
}
