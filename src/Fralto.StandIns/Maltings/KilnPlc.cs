using Fralto.Core.Modbus;
using Fralto.Core.Scaling;
using Fralto.StandIns.Modbus;

namespace Fralto.StandIns.Maltings;

/// <summary>The controller of the kiln house: 32-bit floats with the low word first, a fan speed in counts, contacts as bits.</summary>
public sealed class KilnPlc
{
    public const int InputRegistersPerKiln = 40;
    public const int HoldingRegistersPerKiln = 20;
    public const int DiscreteInputsPerKiln = 16;
    public const int CoilsPerKiln = 8;

    /// <summary>Counts of an analog card at full scale.</summary>
    public const int FullScale = 32767;

    /// <summary>Run and door contacts, packed into words after the kilns' own registers.</summary>
    public const int Contacts = 192;

    /// <summary>Contacts of one kiln: main fan, exhaust fan, bed turner, door, burner; the others are spare.</summary>
    public const int ContactsPerKiln = 16;

    /// <summary>The kiln whose moisture probe drifts.</summary>
    public const int Drifting = 4;

    private const WordOrder Order = WordOrder.LowFirst;
    private readonly IReadOnlyList<Kiln> _kilns;
    private readonly bool[] _airOnBroken;

    public KilnPlc(IReadOnlyList<Kiln> kilns)
    {
        _kilns = kilns;
        _airOnBroken = new bool[kilns.Count];
        Bank = new(
            kilns.Count * CoilsPerKiln,
            kilns.Count * DiscreteInputsPerKiln,
            kilns.Count * InputRegistersPerKiln + Contacts / 16,
            kilns.Count * HoldingRegistersPerKiln
        );
        for (var i = 0; i < kilns.Count; i++)
            Bank.SetBit(RegisterArea.Coil, i * CoilsPerKiln, true);
        Publish();
    }

    /// <summary>What clients read and write.</summary>
    public RegisterBank Bank { get; }

    /// <summary>Where the packed contacts begin.</summary>
    public int ContactsAt => _kilns.Count * InputRegistersPerKiln;

    /// <summary>Breaks or mends the air-on sensor of a kiln: a broken one reads not-a-number.</summary>
    public void BreakAirOn(int kiln, bool broken)
    {
        _airOnBroken[kiln] = broken;
        Publish();
    }

    /// <summary>The kiln, from 1, whose values stand still; 0 for none.</summary>
    public int Stuck { get; set; }

    /// <summary>The kiln, from 1, whose moisture comes with its words the other way round; 0 for none.</summary>
    public int WrongOrder { get; set; }

    /// <summary>True while the air-on sensor of a kiln is broken.</summary>
    public bool IsAirOnBroken(int kiln) => _airOnBroken[kiln];

    /// <summary>Runs the kilns up to a time and puts their state into the registers.</summary>
    public void AdvanceTo(TimeSpan elapsed)
    {
        for (var i = 0; i < _kilns.Count; i++)
        {
            _kilns[i].BurnerEnabled = Bank.Coil(i * CoilsPerKiln);
            // A setpoint other than the one published is one that a client has written.
            var setpoint = Bank.Read(RegisterArea.HoldingRegister, i * HoldingRegistersPerKiln, RawType.Float32, Order);
            if ((float)_kilns[i].Setpoint != (float)setpoint && setpoint is >= 0 and <= 120)
                _kilns[i].ManualSetpoint = setpoint;
            if (i + 1 == Stuck)
                continue;
            _kilns[i].AdvanceTo(elapsed);
        }
        Publish();
    }

    private void Publish()
    {
        for (var i = 0; i < _kilns.Count; i++)
        {
            var (kiln, input, contact) = (_kilns[i], i * InputRegistersPerKiln, i * DiscreteInputsPerKiln);
            void Float(int offset, double value) => Bank.Set(RegisterArea.InputRegister, input + offset, RawType.Float32, Order, value);
            Float(0, _airOnBroken[i] ? double.NaN : kiln.AirOn);
            Float(2, kiln.AirOff);
            // The moisture probe of kiln 4 drifts: what it reads creeps up.
            Bank.Set(
                RegisterArea.InputRegister,
                input + 4,
                RawType.Float32,
                i + 1 == WrongOrder ? WordOrder.HighFirst : Order,
                kiln.Moisture + (i + 1 == Drifting ? Math.Min(6, kiln.Hours * 0.04) : 0)
            );
            Float(6, kiln.Gas);
            Float(8, kiln.BedDepth);
            Bank.Set(RegisterArea.InputRegister, input + 10, RawType.Int16, Order, kiln.Fan / 100 * FullScale);
            // The status word: bit 0 automatic, bit 1 heating allowed, the phase in bits 4 to 6.
            Bank.Set(
                RegisterArea.InputRegister,
                input + 11,
                RawType.UInt16,
                Order,
                1 | (kiln.BurnerEnabled ? 2 : 0) | ((int)kiln.Phase << 4)
            );
            Bank.Set(RegisterArea.InputRegister, input + 12, RawType.UInt32, Order, kiln.BurnerSeconds);
            Bank.Set(RegisterArea.HoldingRegister, i * HoldingRegistersPerKiln, RawType.Float32, Order, kiln.Setpoint);
            void Packed(int offset, bool on) => Bank.SetPackedBool(ContactsAt, i * ContactsPerKiln + offset, Order, on);
            Packed(0, kiln.Fan > 5);
            Packed(1, kiln.Fan > 20);
            Packed(2, kiln.Phase is KilnPhase.Withering or KilnPhase.Break);
            Packed(3, kiln.Phase is not (KilnPhase.Loading or KilnPhase.Unloading));
            Packed(4, kiln.BurnerOn);
            Bank.SetBit(RegisterArea.DiscreteInput, contact, kiln.Fan > 5);
            Bank.SetBit(RegisterArea.DiscreteInput, contact + 1, kiln.Phase is not (KilnPhase.Loading or KilnPhase.Unloading));
            Bank.SetBit(RegisterArea.DiscreteInput, contact + 2, kiln.BurnerOn);
            Bank.SetBit(RegisterArea.DiscreteInput, contact + 3, kiln.Phase is KilnPhase.Withering or KilnPhase.Break);
        }
    }
}
