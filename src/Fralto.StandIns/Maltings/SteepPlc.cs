using Fralto.Core.Modbus;
using Fralto.Core.Scaling;
using Fralto.StandIns.Modbus;

namespace Fralto.StandIns.Maltings;

/// <summary>The controller of the steep house: 4...20 mA cards in 16-bit counts, a flow by differential pressure, a status word, a timer in
/// BCD.</summary>
public sealed class SteepPlc
{
    public const int RegistersPerSteep = 10;

    /// <summary>The vessel whose temperature sensor is disconnected: 3.2 mA, below any measuring information.</summary>
    public const int BrokenSensor = 5;

    /// <summary>The type plate, as text.</summary>
    public const string TypePlate = "STEEP-PLC 2.4";

    /// <summary>Where the type plate begins.</summary>
    public const int TypePlateAt = 200;

    /// <summary>Bytes of the type plate.</summary>
    public const int TypePlateLength = 16;

    private static readonly Signal Card = Signal.Of(SignalKind.Counts15);
    private readonly IReadOnlyList<Steep> _steeps;
    private readonly int? _brokenSensor;

    /// <param name="steeps">The steeps.</param>
    /// <param name="brokenSensor">The one, from 1, whose temperature sensor is disconnected; null for none.</param>
    public SteepPlc(IReadOnlyList<Steep> steeps, int? brokenSensor = BrokenSensor)
    {
        (_steeps, _brokenSensor) = (steeps, brokenSensor);
        Bank = new(8, 8, TypePlateAt + TypePlateLength / 2, 8);
        Bank.SetText(RegisterArea.InputRegister, TypePlateAt, TypePlateLength, TypePlate);
        Publish();
    }

    /// <summary>What clients read.</summary>
    public RegisterBank Bank { get; }

    /// <summary>Runs the steeps up to a time and puts their state into the registers.</summary>
    public void AdvanceTo(TimeSpan elapsed)
    {
        foreach (var steep in _steeps)
            steep.AdvanceTo(elapsed);
        Publish();
    }

    private void Publish()
    {
        for (var i = 0; i < _steeps.Count; i++)
        {
            var (steep, at) = (_steeps[i], i * RegistersPerSteep);
            void Set(int offset, RawType type, double value) =>
                Bank.Set(RegisterArea.InputRegister, at + offset, type, WordOrder.HighFirst, value);
            void Analog(int offset, double share) =>
                Set(offset, RawType.Int16, Math.Clamp(Card.Raw.At(share), short.MinValue, short.MaxValue));
            Analog(0, steep.Level / 3.2);
            Analog(1, i + 1 == _brokenSensor ? (3.2 - 4) / 16 : steep.Temperature / 50);
            Analog(2, steep.Oxygen / 12);
            // The transmitter gives differential pressure; the flow is its root.
            Analog(3, Math.Pow(steep.Flow / 60, 2));
            Set(
                4,
                RawType.UInt16,
                (int)steep.Step
                    | (steep.Step == SteepStep.Fill ? 8 : 0)
                    | (steep.Step == SteepStep.Drain ? 16 : 0)
                    | (steep.Step == SteepStep.AirRest ? 32 : 0)
            );
            Set(5, RawType.Bcd16, Math.Floor(steep.Minutes));
        }
    }
}
