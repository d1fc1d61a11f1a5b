namespace Fralto.Core.Engine;

/// <summary>Tells which of many things may be due, at a cost that follows how many those are: a wheel of slots of time, each with a
/// list.</summary>
/// <remarks>Times are rounded up to a slot, and what is due beyond the wheel comes up sooner and has to be put in again; whoever uses it
/// looks at the true time.</remarks>
/// <param name="count">How many things there are; each is in the wheel once at most.</param>
internal sealed class DueWheel(int count)
{
    private const int Slots = 512;
    private const long SlotTicks = TimeSpan.TicksPerMillisecond * 100;
    private const int None = -1;

    private readonly int[] _next = new int[count];
    private readonly int[] _heads = Filled();
    private long _at;
    private bool _hasBegun;

    /// <summary>Puts a thing in that is not in.</summary>
    public void Add(int item, long due, long now)
    {
        if (!_hasBegun)
            (_at, _hasBegun) = (now / SlotTicks, true);
        var slot = Math.Max(due / SlotTicks + 1, _at + 1);
        // What is due beyond the wheel is spread over its far half: it must not come up all at once.
        if (slot > _at + Slots - 1)
            slot = _at + Slots / 2 + item % (Slots / 2 - 1);
        slot %= Slots;
        _next[item] = _heads[slot];
        _heads[slot] = item;
    }

    /// <summary>Takes out what may be due, the first first, and at most so many: the others come up with the next call.</summary>
    public void Take(long now, int most, List<int> into)
    {
        var to = now / SlotTicks;
        if (!_hasBegun || to <= _at)
            return;
        // After a long pause one turn of the wheel is all of it.
        if (to - _at > Slots)
            _at = to - Slots;
        while (_at < to)
        {
            ref var head = ref _heads[(_at + 1) % Slots];
            for (; head != None && into.Count < most; head = _next[head])
                into.Add(head);
            if (head != None)
                return;
            _at++;
        }
    }

    private static int[] Filled()
    {
        var heads = new int[Slots];
        Array.Fill(heads, None);
        return heads;
    }
}
