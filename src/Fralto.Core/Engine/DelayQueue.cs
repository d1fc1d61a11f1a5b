namespace Fralto.Core.Engine;

/// <summary>Limits that wait for one length of delay. Time goes forward, so what comes first is due first.</summary>
internal sealed class DelayQueue(long delay)
{
    /// <summary>The delay, in ticks of 100 ns.</summary>
    public long Delay => delay;

    /// <summary>What waits: the slot of the limit, and when it is due. An entry whose slot no longer says so has been taken back.</summary>
    public Queue<(int Slot, long Due)> Waiting { get; } = new();
}
