using Fralto.Core.Quality;

namespace Fralto.Core.Formulas;

/// <summary>First-order filter: goes towards its input by 63 % in one time constant.</summary>
internal sealed class FilterState(TimeUse use) : OverTimeState(use)
{
    private const double Near = 1e-9;
    private double _value = double.NaN;

    public override (double Value, StatusCode Status) Result =>
        double.IsNaN(_value) ? (double.NaN, InputStatus) : (_value, InputStatus.IsBad ? StatusCode.UncertainLastUsableValue : InputStatus);

    public override long Due =>
        HasInput && Math.Abs(Input - _value) > Near * Math.Max(1, Math.Abs(Input))
            ? At + Math.Clamp((long)(Use.UnitSeconds * TimeSpan.TicksPerSecond / 20), TimeSpan.TicksPerSecond / 10, TimeSpan.TicksPerSecond)
            : long.MaxValue;

    protected override void Pass(long until, in OverTimeMoment now)
    {
        if (!HasInput)
            return;
        _value = double.IsNaN(_value)
            ? Input
            : Input + (_value - Input) * Math.Exp(-(double)(until - At) / TimeSpan.TicksPerSecond / Use.UnitSeconds);
        IsDirty = true;
    }

    protected override void Change(double next, in OverTimeMoment now)
    {
        if (double.IsNaN(_value))
            _value = next;
    }

    protected override void Keep(BinaryWriter writer, in OverTimeMoment now) => writer.Write(_value);

    protected override void Restore(BinaryReader reader, in OverTimeMoment now) => _value = reader.ReadDouble();
}
