namespace Fralto.StandIns.Maltings;

/// <summary>One steep vessel: barley under water and in air by turns, for some 40 hours.</summary>
/// <remarks>Invented but plausible numbers, a pure function of seed and elapsed time.</remarks>
public sealed class Steep
{
    private static readonly (SteepStep Step, double Hours)[] Programme =
    [
        (SteepStep.Fill, 0.7),
        (SteepStep.Soak, 7.5),
        (SteepStep.Drain, 0.6),
        (SteepStep.AirRest, 9),
        (SteepStep.Fill, 0.7),
        (SteepStep.Soak, 6.5),
        (SteepStep.Drain, 0.6),
        (SteepStep.AirRest, 10),
        (SteepStep.Fill, 0.7),
        (SteepStep.Soak, 2),
        (SteepStep.Empty, 1),
        (SteepStep.Idle, 0.7),
    ];

    private static readonly double CycleHours = Programme.Sum(p => p.Hours);
    private readonly Noise _noise;
    private readonly double _startHours;

    /// <param name="seed">Seed of the noise.</param>
    /// <param name="startHours">Where in its cycle of 40 hours it stands at the beginning.</param>
    public Steep(ulong seed, double startHours)
    {
        (_noise, _startHours) = (new(seed), startHours);
        AdvanceTo(TimeSpan.Zero);
    }

    public SteepStep Step { get; private set; }

    /// <summary>Minutes in the step.</summary>
    public double Minutes { get; private set; }

    /// <summary>Level of water and grain, m.</summary>
    public double Level { get; private set; }

    /// <summary>Temperature of the water, or of the grain in air, °C.</summary>
    public double Temperature { get; private set; }

    /// <summary>Dissolved oxygen, mg/l.</summary>
    public double Oxygen { get; private set; }

    /// <summary>Water running in, m³/h.</summary>
    public double Flow { get; private set; }

    /// <summary>Puts it where it is at a time since the beginning.</summary>
    public void AdvanceTo(TimeSpan elapsed)
    {
        var into = (_startHours + elapsed.TotalHours) % CycleHours;
        var at = 0;
        while (into >= Programme[at].Hours)
            into -= Programme[at++].Hours;
        var (step, hours) = Programme[at];
        var (share, tick) = (into / hours, (long)(elapsed.TotalSeconds / 5));
        Step = step;
        Minutes = into * 60;
        var full = 2.72 + 0.05 * at / Programme.Length;
        Level =
            step switch
            {
                SteepStep.Fill => 1.4 + (full - 1.4) * share,
                SteepStep.Soak => full + 0.06 * share,
                SteepStep.Drain => full - (full - 1.5) * share,
                SteepStep.AirRest => 1.5 + 0.1 * share,
                SteepStep.Empty => full * (1 - share),
                _ => 0.02,
            }
            + 0.008 * _noise.At(tick, 1);
        Temperature =
            step switch
            {
                SteepStep.Fill => 13.2,
                SteepStep.Soak => 13.2 + 2.2 * share,
                SteepStep.AirRest => 15.2 + 1.6 * share,
                _ => 15,
            }
            + 0.06 * _noise.At(tick, 2);
        Oxygen = Math.Max(
            0.2,
            step switch
            {
                SteepStep.Fill => 9.6,
                SteepStep.Soak => 9.4 * Math.Exp(-1.6 * share) + 0.5 + 0.8 * Math.Max(0, Math.Sin(into * 12)),
                _ => 8.8,
            }
                + 0.1 * _noise.At(tick, 3)
        );
        Flow = step == SteepStep.Fill ? 46 + 1.5 * _noise.At(tick, 4) : 0;
    }
}
