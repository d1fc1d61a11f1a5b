namespace Fralto.Core.Engine;

/// <summary>Tells which of many things may be due, at a cost that follows how many those are: a wheel of slots of time, each with a list.</summary>
/// <remarks>Times are rounded up to a slot, and what is due beyond the wheel comes up sooner and has to be put in again; whoever uses it looks at the true time.</remarks>
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
        if (!_hasBegun) (_at, _hasBegun) = (now / SlotTicks, true);
        var slot = Math.Clamp(due / SlotTicks + 1, _at + 1, _at + Slots - 1) % Slots;
        _next[item] = _heads[slot];
        _heads[slot] = item;
    }

    /// <summary>Takes out what may be due.</summary>
    public void Take(long now, List<int> into)
    {
        var to = now / SlotTicks;
        if (!_hasBegun || to <= _at) return;
        for (var turns = Math.Min(to - _at, Slots); turns > 0; turns--)
        {
            ref var head = ref _heads[(to - turns + 1) % Slots];
            for (var item = head; item != None; item = _next[item]) into.Add(item);
            head = None;
        }
        _at = to;
    }

    private static int[] Filled()
    {
        var heads = new int[Slots];
        Array.Fill(heads, None);
        return heads;
    }
}
