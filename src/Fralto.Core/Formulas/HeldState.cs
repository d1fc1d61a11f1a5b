using Fralto.Core.Quality;

namespace Fralto.Core.Formulas;

/// <summary>How long a value has been as it is, in seconds.</summary>
internal sealed class HeldState(TimeUse use) : OverTimeState(use)
{
    private double _value = double.NaN;
    private long _since;

    public override (double Value, StatusCode Status) Result =>
        double.IsNaN(_value)
            ? (double.NaN, StatusCode.BadNoData)
            : ((double)(At - _since) / TimeSpan.TicksPerSecond, InputStatus.IsBad ? StatusCode.UncertainLastUsableValue : InputStatus);

    public override long Due => double.IsNaN(_value) ? long.MaxValue : At + TimeSpan.TicksPerSecond;

    protected override void Pass(long until, in OverTimeMoment now) { }

    protected override void Change(double next, in OverTimeMoment now)
    {
        if (double.IsNaN(next) || next.Equals(_value))
            return;
        (_value, _since) = (next, At);
    }

    protected override void Keep(BinaryWriter writer, in OverTimeMoment now)
    {
        writer.Write(_value);
        writer.Write(now.UtcTicks + (_since - now.Ticks));
    }

    protected override void Restore(BinaryReader reader, in OverTimeMoment now) =>
        (_value, _since) = (reader.ReadDouble(), Math.Min(now.TicksOf(reader.ReadInt64()), now.Ticks));
}
