namespace Fralto.StandIns.Maltings;

/// <summary>One malt kiln: hot air through a bed of green malt until it is dry.</summary>
/// <remarks>
/// A lumped model with invented but plausible numbers. It advances in fixed steps and draws its noise from a hash of seed and step,
/// so the same seed and the same elapsed time always give the same state.
/// </remarks>
public sealed class Kiln
{
    /// <summary>The step it lives with.</summary>
    public static readonly TimeSpan UsualStep = TimeSpan.FromSeconds(5);

    /// <summary>One step of the simulation; long ones are for long stretches.</summary>
    public TimeSpan Step { get; init; } = UsualStep;

    private const double Ambient = 15;
    private static readonly (KilnPhase Phase, double Hours, double AirOn, double Fan)[] Programme =
    [
        (KilnPhase.Loading, 0.5, 24, 0),
        (KilnPhase.Withering, 9, 60, 88),
        (KilnPhase.Break, 2, 68, 80),
        (KilnPhase.Drying, 4, 74, 68),
        (KilnPhase.Curing, 3, 85.5, 55),
        (KilnPhase.Cooling, 1, 28, 92),
        (KilnPhase.Unloading, 0.5, 20, 0),
    ];

    private static readonly double CycleHours = Programme.Sum(p => p.Hours);

    private readonly Noise _noise;
    private readonly double _startHours;
    private long _steps;

    /// <param name="seed">Seed of the noise.</param>
    /// <param name="startHours">Where in its cycle of 20 hours it stands at the beginning.</param>
    public Kiln(ulong seed, double startHours)
    {
        _noise = new(seed);
        _startHours = startHours;
        var (phase, into) = PhaseAt(startHours);
        Phase = phase.Phase;
        AirOn = phase.AirOn;
        Fan = phase.Fan;
        Moisture = Phase switch
        {
            KilnPhase.Loading => 45,
            KilnPhase.Withering => 45 - 2.6 * into,
            KilnPhase.Break => 20 - 2.5 * into,
            KilnPhase.Drying => 14 - 1.6 * into,
            _ => 6,
        };
        AirOff = 26 + 10 * (1 - Moisture / 45);
    }

    public KilnPhase Phase { get; private set; }

    /// <summary>Temperature of the air below the bed, °C.</summary>
    public double AirOn { get; private set; }

    /// <summary>Temperature of the air above the bed, °C.</summary>
    public double AirOff { get; private set; }

    /// <summary>Water in the malt, % of its mass.</summary>
    public double Moisture { get; private set; }

    /// <summary>Fan speed, % of full speed.</summary>
    public double Fan { get; private set; }

    /// <summary>Gas to the burner, m³/h.</summary>
    public double Gas { get; private set; }

    /// <summary>Depth of the bed, m; it settles as it dries.</summary>
    public double BedDepth => 0.78 + 0.27 * Moisture / 45;

    /// <summary>True while the burner burns.</summary>
    public bool BurnerOn => Gas > 1;

    /// <summary>Hours since the beginning.</summary>
    public double Hours => (_steps * Step).TotalHours;

    /// <summary>Seconds the burner has burnt since the beginning.</summary>
    public double BurnerSeconds { get; private set; }

    /// <summary>Setpoint of the air-on temperature that the programme asks for, °C.</summary>
    public double Setpoint { get; private set; }

    /// <summary>A setpoint that somebody has given by hand, °C, until the next phase; null when the programme rules.</summary>
    public double? ManualSetpoint { get; set; }

    /// <summary>False when somebody has switched the burner off.</summary>
    public bool BurnerEnabled { get; set; } = true;

    /// <summary>Every so many hours of burning the flame fails for a while; none when null.</summary>
    public double? TripsEveryHours { get; init; }

    /// <summary>How far the temperature loop swings while curing, °C: a badly tuned controller.</summary>
    public double Swing { get; init; }

    /// <summary>Advances to a time since the beginning. Going back is not possible; an earlier time changes nothing.</summary>
    public void AdvanceTo(TimeSpan elapsed)
    {
        var target = (long)(elapsed / Step);
        while (_steps < target)
            Advance(++_steps);
    }

    private static ((KilnPhase Phase, double Hours, double AirOn, double Fan) Entry, double Into) PhaseAt(double hours)
    {
        var into = hours % CycleHours;
        foreach (var entry in Programme)
        {
            if (into < entry.Hours)
                return (entry, into);
            into -= entry.Hours;
        }
        return (Programme[^1], 0);
    }

    private void Advance(long step)
    {
        var hours = Step.TotalHours;
        var now = _startHours + step * hours;
        var (entry, into) = PhaseAt(now);
        if (entry.Phase == KilnPhase.Loading && Phase != KilnPhase.Loading)
            Moisture = 44 + 2 * _noise.At(step, 9);
        if (entry.Phase != Phase)
            ManualSetpoint = null;
        Phase = entry.Phase;
        Setpoint = ManualSetpoint ?? entry.AirOn;

        var swing = Phase == KilnPhase.Curing ? Swing * Math.Sin(into * 2 * Math.PI / 0.75) : 0;
        var tripped = TripsEveryHours is { } every && Phase is KilnPhase.Withering or KilnPhase.Drying && now % every < 0.25;
        var heated = BurnerEnabled && !tripped && entry.Fan > 0 && Phase != KilnPhase.Cooling;
        var target =
            heated ? Setpoint + swing
            : Phase is KilnPhase.Cooling or KilnPhase.Loading or KilnPhase.Unloading ? entry.AirOn
            : Ambient + 8;
        AirOn += (target - AirOn) * hours / 0.12 + 0.08 * _noise.At(step, 1);

        Fan += (entry.Fan - Fan) * hours / 0.03;
        var fan = Math.Clamp(Fan + 0.4 * _noise.At(step, 2), 0, 100);
        var wetBulb = 24 + 0.12 * Math.Max(0, AirOn - 50);
        var uptake = 0.98 * Moisture / (Moisture + 8);
        AirOff += (wetBulb + (AirOn - wetBulb) * (1 - uptake) - AirOff) * hours / 0.25 + 0.05 * _noise.At(step, 3);
        Moisture = Math.Max(4.2, Moisture - 0.141 * fan / 100 * Math.Max(0, AirOn - AirOff) * hours + 0.01 * _noise.At(step, 4));
        Gas = heated ? Math.Clamp(fan / 100 * Math.Max(0, AirOn - Ambient) * 11 * (1 + 0.015 * _noise.At(step, 5)), 0, 800) : 0;
        if (BurnerOn)
            BurnerSeconds += Step.TotalSeconds;
        Fan = fan;
    }
}
