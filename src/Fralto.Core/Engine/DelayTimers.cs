namespace Fralto.Core.Engine;

/// <summary>Limits that wait for a delay to pass, the one that is due first in front, however long their delays are.</summary>
/// <param name="slots">How many limits there are; each has a slot, which waits for one thing at a time.</param>
internal sealed class DelayTimers(int slots)
{
    /// <summary>Entries that were taken back stay in the queue until they are many.</summary>
    private const int FewTakenBack = 1024;

    private readonly PriorityQueue<int, (long Due, long Order)> _queue = new();
    private readonly long[] _due = new long[slots];
    private long _order;
    private int _waiting;

    /// <summary>When a slot is due, in engine time; 0 when it does not wait.</summary>
    public long DueOf(int slot) => _due.Length == 0 ? 0 : _due[slot];

    /// <summary>Lets a slot wait; what it waited for before is forgotten.</summary>
    public void Start(int slot, long due)
    {
        if (_due[slot] == 0)
            _waiting++;
        _due[slot] = due;
        _queue.Enqueue(slot, (due, _order++));
        if (_queue.Count > 2 * _waiting + FewTakenBack)
            Tidy();
    }

    /// <summary>Lets a slot wait no longer.</summary>
    public void Cancel(int slot)
    {
        if (_due.Length == 0 || _due[slot] == 0)
            return;
        _due[slot] = 0;
        _waiting--;
    }

    /// <summary>Takes out what is due, the earliest first.</summary>
    /// <returns>False when nothing is due by now.</returns>
    public bool TryTake(long now, out int slot, out long due)
    {
        while (_queue.TryPeek(out slot, out var first) && (first.Due <= now || _due[slot] != first.Due))
        {
            _queue.Dequeue();
            due = first.Due;
            if (_due[slot] != due)
                continue;
            Cancel(slot);
            return true;
        }
        due = 0;
        return false;
    }

    /// <summary>All that wait: slot and when it is due.</summary>
    public IEnumerable<(int Slot, long Due)> All()
    {
        if (_waiting == 0)
            yield break;
        for (var slot = 0; slot < _due.Length; slot++)
            if (_due[slot] != 0)
                yield return (slot, _due[slot]);
    }

    private void Tidy()
    {
        var kept = new List<(int Slot, (long Due, long Order) At)>(_waiting);
        var seen = new HashSet<int>();
        while (_queue.TryDequeue(out var slot, out var at))
            if (_due[slot] == at.Due && seen.Add(slot))
                kept.Add((slot, at));
        _queue.EnqueueRange(kept);
    }
}
