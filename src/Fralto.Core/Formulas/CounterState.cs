using Fralto.Core.Quality;

namespace Fralto.Core.Formulas;

/// <summary>A total, a number of starts or a time that counts from a beginning.</summary>
internal sealed class CounterState(TimeUse use) : OverTimeState(use)
{
    private static readonly long Refresh = TimeSpan.TicksPerSecond;
    private double _sum;
    private bool _hasCounted;
    private double _seen = double.NaN;
    private long _nextReset = long.MaxValue;

    public override (double Value, StatusCode Status) Result =>
        // Where nothing was ever seen, 0 would claim what is not known.
        !_hasCounted
            ? (double.NaN, StatusCode.BadNoData)
            : (
                Use.Kind == OverTimeKind.Total ? _sum / Use.UnitSeconds : _sum,
                InputStatus.IsBad ? StatusCode.UncertainLastUsableValue : InputStatus
            );

    public override long Due =>
        Math.Min(_nextReset, HasInput && Use.Kind != OverTimeKind.Starts && Input != 0 && !Use.IsSloped ? At + Refresh : long.MaxValue);

    public override void Reset(in OverTimeMoment now)
    {
        _sum = 0;
        base.Reset(in now);
    }

    protected override void Begin(in OverTimeMoment now) => FindReset(At, in now);

    protected override void Pass(long until, in OverTimeMoment now)
    {
        var from = At;
        while (_nextReset <= until)
        {
            Add(_nextReset - from);
            from = _nextReset;
            Reset(in now);
            FindReset(from, in now);
        }
        Add(until - from);
    }

    protected override void Change(double next, in OverTimeMoment now)
    {
        _hasCounted |= !double.IsNaN(next);
        if (Use.Kind == OverTimeKind.Starts)
        {
            if (double.IsNaN(next))
                return;
            if (_seen == 0 && next != 0)
                _sum++;
            _seen = next;
        }
        else if (Use.IsSloped)
        {
            // The line between two values is known when the second comes.
            if (HasInput && !double.IsNaN(next))
                _sum += (Input + next) / 2 * (At - _slopeFrom) / TimeSpan.TicksPerSecond;
            _slopeFrom = At;
        }
    }

    private long _slopeFrom;

    protected override void Keep(BinaryWriter writer, in OverTimeMoment now)
    {
        writer.Write(_hasCounted);
        writer.Write(_sum);
        writer.Write(_seen);
        writer.Write(_nextReset == long.MaxValue ? 0 : now.UtcTicks + (_nextReset - now.Ticks));
    }

    protected override void Restore(BinaryReader reader, in OverTimeMoment now)
    {
        (_hasCounted, _sum, _seen) = (reader.ReadBoolean(), reader.ReadDouble(), reader.ReadDouble());
        var reset = reader.ReadInt64();
        // What should have begun anew while nobody looked begins anew now.
        _nextReset = reset == 0 ? long.MaxValue : now.TicksOf(reset);
        if (reset == 0)
            FindReset(now.Ticks, in now);
        _slopeFrom = now.Ticks;
    }

    private void Add(long ticks)
    {
        if (ticks <= 0 || !HasInput || Use.IsSloped || Use.Kind == OverTimeKind.Starts || Input == 0)
            return;
        _sum += (Use.Kind == OverTimeKind.Time ? 1 : Input) * ticks / TimeSpan.TicksPerSecond;
        IsDirty = true;
    }

    private void FindReset(long after, in OverTimeMoment now)
    {
        var utc = now.UtcTicks + (after - now.Ticks);
        _nextReset =
            Use.Each is { } span ? now.TicksOf(now.Calendar.NextAfter(span, utc))
            : Use.ResetAt is { } time ? now.TicksOf(now.Calendar.NextAt(time, utc))
            : long.MaxValue;
    }
}
