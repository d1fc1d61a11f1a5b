using Fralto.Core.Quality;

namespace Fralto.Core.Formulas;

/// <summary>A window that moves on in steps: what is kept is one pane a step, however many samples come.</summary>
/// <remarks>The result stands for the window that ended with the last step, and stays until the next: half-open at its end, so that what
/// comes at the very end belongs to the next.</remarks>
internal sealed class WindowState : OverTimeState
{
    private const double Whole = 1 - 1e-9;
    private double[] _first;
    private double[]? _second;
    private float[] _covered;
    private float[]? _lasting;
    private int _next;
    private int _filled;

    // The pane that is open: two numbers by kind, seconds covered, and when it began.
    private double _a;
    private double _b;
    private double _seconds;
    private double _seen = double.NaN;
    private long _begun;
    private long _boundary;
    private double _value = double.NaN;
    private double _share;
    private StatusCode _status = StatusCode.BadNoData;

    public WindowState(TimeUse use)
        : base(use)
    {
        var panes = use.Span is null ? (int)(use.Window / use.Pane) : 1;
        _first = new double[panes];
        _second = use.Kind is OverTimeKind.Range or OverTimeKind.Deviation ? new double[panes] : null;
        _covered = new float[panes];
        // Only where it matters how long a pane was, and not how long it was meant to be.
        _lasting = use.Kind == OverTimeKind.Rate || use.Span is not null ? new float[panes] : null;
        OpenPane();
    }

    public override (double Value, StatusCode Status) Result => (_value, _status);

    public override double Covered => _share;

    public override OverTimeState Copy()
    {
        var copy = (WindowState)base.Copy();
        (copy._first, copy._second) = ([.. _first], _second is null ? null : [.. _second]);
        (copy._covered, copy._lasting) = ([.. _covered], _lasting is null ? null : [.. _lasting]);
        return copy;
    }

    public override long Due => _boundary;

    protected override void Begin(in OverTimeMoment now)
    {
        _begun = At;
        FindBoundary(At, in now);
    }

    protected override void Pass(long until, in OverTimeMoment now)
    {
        var from = At;
        while (_boundary <= until)
        {
            Add(_boundary - from);
            from = _boundary;
            Close(from);
            FindBoundary(from, in now);
        }
        Add(until - from);
    }

    protected override void Change(double next, in OverTimeMoment now)
    {
        if (Use.Kind == OverTimeKind.Starts && !double.IsNaN(next))
        {
            if (_seen == 0 && next != 0)
                _a++;
            _seen = next;
        }
        // What comes when the pane begins is what it begins with.
        if (Use.Kind is OverTimeKind.First or OverTimeKind.Rate && At == _begun)
            _a = next;
    }

    protected override void Keep(BinaryWriter writer, in OverTimeMoment now)
    {
        writer.Write(_next);
        writer.Write(_filled);
        for (var i = 0; i < _first.Length; i++)
        {
            writer.Write(_first[i]);
            writer.Write(_second is null ? 0 : _second[i]);
            writer.Write(_covered[i]);
            writer.Write(LastingOf(i));
        }
        writer.Write(_a);
        writer.Write(_b);
        writer.Write(_seconds);
        writer.Write(_seen);
        writer.Write(now.UtcTicks + (_begun - now.Ticks));
        writer.Write(now.UtcTicks + (_boundary - now.Ticks));
        writer.Write(_value);
        writer.Write(_share);
        writer.Write(_status.Value);
    }

    protected override void Restore(BinaryReader reader, in OverTimeMoment now)
    {
        (_next, _filled) = (reader.ReadInt32(), reader.ReadInt32());
        for (var i = 0; i < _first.Length; i++)
        {
            _first[i] = reader.ReadDouble();
            var second = reader.ReadDouble();
            if (_second is not null)
                _second[i] = second;
            _covered[i] = reader.ReadSingle();
            var lasting = reader.ReadSingle();
            if (_lasting is not null)
                _lasting[i] = lasting;
        }
        (_a, _b, _seconds, _seen) = (reader.ReadDouble(), reader.ReadDouble(), reader.ReadDouble(), reader.ReadDouble());
        (_begun, _boundary) = (now.TicksOf(reader.ReadInt64()), now.TicksOf(reader.ReadInt64()));
        (_value, _share, _status) = (reader.ReadDouble(), reader.ReadDouble(), new(reader.ReadUInt32()));
    }

    private float LastingOf(int pane) => _lasting is null ? (float)((double)Use.Pane / TimeSpan.TicksPerSecond) : _lasting[pane];

    private void OpenPane()
    {
        (_a, _b, _seconds) = Use.Kind switch
        {
            OverTimeKind.Minimum => (double.PositiveInfinity, 0, 0),
            OverTimeKind.Maximum => (double.NegativeInfinity, 0, 0),
            OverTimeKind.Range => (double.PositiveInfinity, double.NegativeInfinity, 0d),
            OverTimeKind.First or OverTimeKind.Rate => (Input, 0, 0),
            _ => (0d, 0d, 0d),
        };
    }

    private void Add(long ticks)
    {
        if (ticks <= 0 || !HasInput)
            return;
        var (seconds, x) = ((double)ticks / TimeSpan.TicksPerSecond, Input);
        switch (Use.Kind)
        {
            case OverTimeKind.Minimum:
                _a = Math.Min(_a, x);
                break;
            case OverTimeKind.Maximum:
                _a = Math.Max(_a, x);
                break;
            case OverTimeKind.Range:
                (_a, _b) = (Math.Min(_a, x), Math.Max(_b, x));
                break;
            case OverTimeKind.Mean:
                // Mean so far and its weight: large numbers do not swallow small ones.
                _a += (x - _a) * seconds / (_seconds + seconds);
                break;
            case OverTimeKind.Deviation:
                var mean = _a + (x - _a) * seconds / (_seconds + seconds);
                _b += seconds * (x - _a) * (x - mean);
                _a = mean;
                break;
            case OverTimeKind.Total:
                _a += x * seconds;
                break;
            case OverTimeKind.Time:
                _a += x != 0 ? seconds : 0;
                break;
        }
        _seconds += seconds;
    }

    private void Close(long at)
    {
        (_first[_next], _covered[_next]) = (_a, (float)_seconds);
        if (_second is not null)
            _second[_next] = _b;
        if (_lasting is not null)
            _lasting[_next] = (float)((double)(at - _begun) / TimeSpan.TicksPerSecond);
        _next = (_next + 1) % _first.Length;
        _filled = Math.Min(_filled + 1, _first.Length);
        Conclude();
        _begun = at;
        OpenPane();
        IsDirty = true;
    }

    private void Conclude()
    {
        var (lasting, covered) = (0d, 0d);
        var (a, b) = (double.NaN, double.NaN);
        for (var i = 0; i < _filled; i++)
        {
            var at = (_next - _filled + i + _first.Length) % _first.Length;
            lasting += LastingOf(at);
            var weight = (double)_covered[at];
            var x = _first[at];
            if (Use.Kind == OverTimeKind.Starts && weight == 0 && x > 0)
                weight = float.Epsilon;
            if (Use.Kind is OverTimeKind.First or OverTimeKind.Rate)
            {
                // The oldest that is known.
                if (double.IsNaN(a) && !double.IsNaN(x))
                    (a, b) = (x, lasting - LastingOf(at));
                covered += weight;
                continue;
            }
            if (weight == 0)
                continue;
            var other = _second is null ? 0 : _second[at];
            if (covered == 0)
                (a, b) = (x, other);
            else
                switch (Use.Kind)
                {
                    case OverTimeKind.Minimum:
                        a = Math.Min(a, x);
                        break;
                    case OverTimeKind.Maximum:
                        a = Math.Max(a, x);
                        break;
                    case OverTimeKind.Range:
                        (a, b) = (Math.Min(a, x), Math.Max(b, other));
                        break;
                    case OverTimeKind.Mean:
                        a += (x - a) * weight / (covered + weight);
                        break;
                    case OverTimeKind.Deviation:
                        var apart = x - a;
                        b += other + apart * apart * covered * weight / (covered + weight);
                        a += apart * weight / (covered + weight);
                        break;
                    default:
                        a += x;
                        break;
                }
            covered += weight;
        }
        var wanted = Use.Span is null ? (double)Use.Window / TimeSpan.TicksPerSecond : lasting;
        _share = Math.Clamp(covered / wanted, 0, 1);
        // A pane's length is kept in single precision.
        if (_share > 1 - 1e-5 && _filled == _first.Length)
            _share = 1;
        if (double.IsNaN(a))
        {
            (_value, _status) = (double.NaN, StatusCode.BadNoData);
            return;
        }
        _value = Use.Kind switch
        {
            OverTimeKind.Range => b - a,
            OverTimeKind.Deviation => Math.Sqrt(Math.Max(0, b) / covered),
            OverTimeKind.Total => a / Use.UnitSeconds,
            OverTimeKind.Rate => (Input - a) / (lasting - b),
            _ => a,
        };
        _status =
            double.IsNaN(_value) ? StatusCode.BadNoData
            : _share < Whole ? StatusCode.UncertainDataSubNormal
            : StatusCode.Good;
    }

    private void FindBoundary(long after, in OverTimeMoment now)
    {
        var utc = now.UtcTicks + (after - now.Ticks);
        _boundary = now.TicksOf(Use.Span is { } span ? now.Calendar.NextAfter(span, utc) : now.Calendar.NextStep(Use.Pane, utc));
    }
}
