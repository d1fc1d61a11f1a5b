namespace Fralto.StandIns.Maltings;

/// <summary>One germination box: green malt grows for some days in cool, humid air and is turned now and then.</summary>
/// <remarks>Invented but plausible numbers, worked out for a time: the same seed and time always give the same state.</remarks>
public sealed class Box(ulong seed, double startHours)
{
    private const double CycleHours = 108;
    private const double TurnEveryHours = 8;
    private const double TurnHours = 0.75;
    private readonly Noise _noise = new(seed);

    public BoxPhase Phase { get; private set; }

    /// <summary>Temperatures at three depths of the bed, °C, top first.</summary>
    public double[] Bed { get; } = [15, 15, 15];

    /// <summary>Air below the bed, °C.</summary>
    public double AirOn { get; private set; } = 14;

    /// <summary>Air above the bed, °C.</summary>
    public double AirOff { get; private set; } = 16;

    /// <summary>Relative humidity of the air, %.</summary>
    public double Humidity { get; private set; } = 97;

    /// <summary>Carbon dioxide in the air, %.</summary>
    public double CarbonDioxide { get; private set; }

    /// <summary>Fan speed, %.</summary>
    public double Fan { get; private set; }

    /// <summary>Where the turning carriage stands, m.</summary>
    public double Carriage { get; private set; }

    /// <summary>Opening of the fresh air damper, %.</summary>
    public double Damper { get; private set; }

    /// <summary>Air-on temperature that is asked for, °C; operators change it.</summary>
    public double Setpoint { get; set; } = 14.5;

    /// <summary>True when the damper no longer moves.</summary>
    public bool IsDamperStuck { get; init; }

    /// <summary>Puts it where it is at a time since the beginning.</summary>
    public void AdvanceTo(TimeSpan elapsed)
    {
        var hours = startHours + elapsed.TotalHours;
        var (into, tick) = (hours % CycleHours, (long)(elapsed.TotalSeconds / 10));
        var turning = into % TurnEveryHours;
        Phase =
            into < 1 ? BoxPhase.Load
            : into > CycleHours - 1 ? BoxPhase.Unload
            : turning < TurnHours ? BoxPhase.Turn
            : BoxPhase.Germinate;
        var growth = Math.Sin(Math.Clamp(into / CycleHours, 0, 1) * Math.PI);
        AirOn = Setpoint + 0.3 * Math.Sin(hours * 1.7) + 0.05 * _noise.At(tick, 1);
        for (var depth = 0; depth < Bed.Length; depth++)
            Bed[depth] = AirOn + 0.6 + (Bed.Length - 1 - depth) * 0.9 * growth + 0.06 * _noise.At(tick, 2 + (ulong)depth);
        AirOff = Bed[0] + 0.2 + 0.05 * _noise.At(tick, 6);
        Humidity = Math.Min(100, 97.5 - 1.5 * growth + 0.4 * _noise.At(tick, 7));
        Damper = IsDamperStuck ? 12 : 20 + 55 * growth;
        CarbonDioxide = Math.Max(0.05, growth * (IsDamperStuck ? 8.6 : 4.2) + 0.1 * _noise.At(tick, 8));
        Fan = Phase is BoxPhase.Load or BoxPhase.Unload ? 0 : 45 + 30 * growth + 0.5 * _noise.At(tick, 9);
        Carriage = Phase == BoxPhase.Turn ? 42 * Math.Sin(turning / TurnHours * Math.PI) : 0;
    }
}
