using Fralto.Core.Quality;

namespace Fralto.Core.Formulas;

/// <summary>What one function of a formula keeps of what has been. Its input holds until the next comes.</summary>
/// <remarks>
/// Times are engine time, so that a clock that is set moves nothing; what is aligned to the clock on the wall is found anew at each
/// boundary. A sample that is older than what is known already counts from now on.
/// </remarks>
internal abstract class OverTimeState(TimeUse use)
{
    private bool _hasBegun;
    private bool _wasReset;

    /// <summary>What it is for.</summary>
    protected TimeUse Use { get; private set; } = use;

    /// <summary>Goes on for the same function of a formula that was made ready anew.</summary>
    public OverTimeState GoOnFor(TimeUse next)
    {
        Use = next;
        return this;
    }

    /// <summary>Up to when it is counted, in engine time.</summary>
    protected long At { get; private set; }

    /// <summary>What holds since then; not-a-number while it is Bad.</summary>
    protected double Input { get; private set; } = double.NaN;

    /// <summary>How good it is.</summary>
    protected StatusCode InputStatus { get; private set; } = StatusCode.BadWaitingForInitialData;

    protected bool HasInput => !double.IsNaN(Input);

    /// <summary>The result as of the last time it was taken.</summary>
    public abstract (double Value, StatusCode Status) Result { get; }

    /// <summary>True since it was kept last.</summary>
    public bool IsDirty { get; set; }

    /// <summary>When it moves by itself, in engine time; <see cref="long.MaxValue"/> while nothing but its input moves it.</summary>
    public abstract long Due { get; }

    /// <summary>Share of its window that is covered by values, 0 to 1.</summary>
    public virtual double Covered => 1;

    /// <summary>One for a use.</summary>
    public static OverTimeState For(TimeUse use) =>
        use.Window > 0 || use.Span is not null
            ? new WindowState(use)
            : use.Kind switch
            {
                OverTimeKind.Held => new HeldState(use),
                OverTimeKind.Value => new ValueState(use),
                OverTimeKind.Filter => new FilterState(use),
                _ => new CounterState(use),
            };

    /// <summary>One that stands as this one does and goes on by itself.</summary>
    public virtual OverTimeState Copy() => (OverTimeState)MemberwiseClone();

    /// <summary>Lets time pass and takes the input that holds from now on.</summary>
    public void Take(in FormulaValue input, FormulaValue? reset, FormulaValue? when, double from, in OverTimeMoment now)
    {
        if (!_hasBegun)
        {
            (_hasBegun, At) = (true, now.Ticks);
            Begin(in now);
        }
        else if (now.Ticks > At)
        {
            Pass(now.Ticks, in now);
            At = now.Ticks;
        }
        if (reset is { Status.IsBad: false } r)
        {
            if (r.Value != 0 && !_wasReset)
                Reset(in now);
            _wasReset = r.Value != 0;
        }
        var next =
            input.Status.IsBad ? double.NaN
            : input.Value < from && Use.From >= 0 ? 0
            : input.Value;
        if (!next.Equals(Input) || input.Status != InputStatus)
        {
            Change(next, in now);
            (Input, InputStatus) = (next, input.Status);
            IsDirty = true;
        }
        if (when is { Status.IsBad: false } w)
            Trigger(w.Value != 0);
    }

    /// <summary>Begins to count anew.</summary>
    public virtual void Reset(in OverTimeMoment now) => IsDirty = true;

    /// <summary>Writes what is kept; times as of the clock on the wall.</summary>
    public void Write(BinaryWriter writer, in OverTimeMoment now)
    {
        writer.Write(now.UtcTicks + (At - now.Ticks));
        writer.Write(Input);
        writer.Write(_wasReset);
        Keep(writer, in now);
    }

    /// <summary>Takes up what was kept. What came since is not known.</summary>
    public void Read(BinaryReader reader, in OverTimeMoment now)
    {
        _hasBegun = true;
        At = Math.Min(now.TicksOf(reader.ReadInt64()), now.Ticks);
        Input = reader.ReadDouble();
        _wasReset = reader.ReadBoolean();
        Restore(reader, in now);
        // Between then and now nothing was seen.
        var before = Input;
        Input = double.NaN;
        Pass(now.Ticks, in now);
        At = now.Ticks;
        Resume(before);
    }

    protected virtual void Begin(in OverTimeMoment now) { }

    /// <summary>What held until then was <see cref="Input"/>, from <see cref="At"/> on.</summary>
    protected abstract void Pass(long until, in OverTimeMoment now);

    /// <summary>The input becomes another; <see cref="Input"/> is still the one before.</summary>
    protected virtual void Change(double next, in OverTimeMoment now) { }

    protected virtual void Trigger(bool isOn) { }

    protected abstract void Keep(BinaryWriter writer, in OverTimeMoment now);

    protected abstract void Restore(BinaryReader reader, in OverTimeMoment now);

    /// <summary>What the input was before the time that was not seen.</summary>
    protected virtual void Resume(double before) { }
}
