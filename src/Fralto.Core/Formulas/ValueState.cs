using Fralto.Core.Quality;

namespace Fralto.Core.Formulas;

/// <summary>What a value was when something turned true.</summary>
internal sealed class ValueState(TimeUse use) : OverTimeState(use)
{
    private double _kept = double.NaN;
    private StatusCode _status = StatusCode.BadNoData;
    private bool? _wasOn;

    public override (double Value, StatusCode Status) Result => (_kept, _status);

    public override long Due => long.MaxValue;

    protected override void Pass(long until, in OverTimeMoment now) { }

    protected override void Trigger(bool isOn)
    {
        // What is true when it is first seen did not turn true now.
        if (isOn && _wasOn == false)
        {
            (_kept, _status) = HasInput ? (Input, InputStatus) : (_kept, _status);
            IsDirty = true;
        }
        IsDirty |= _wasOn != isOn;
        _wasOn = isOn;
    }

    protected override void Keep(BinaryWriter writer, in OverTimeMoment now)
    {
        writer.Write(_kept);
        writer.Write(_status.Value);
        writer.Write(
            _wasOn is null ? (byte)2
            : _wasOn.Value ? (byte)1
            : (byte)0
        );
    }

    protected override void Restore(BinaryReader reader, in OverTimeMoment now)
    {
        (_kept, _status) = (reader.ReadDouble(), new(reader.ReadUInt32()));
        _wasOn = reader.ReadByte() switch
        {
            0 => false,
            1 => true,
            _ => null,
        };
    }
}
