namespace Fralto.StandIns.Maltings;

/// <summary>One silo: filled and emptied now and then; grain warms slowly from within.</summary>
/// <remarks>Invented but plausible numbers, worked out for a time: the same seed and time always give the same state.</remarks>
public sealed class GrainSilo(ulong seed)
{
    private readonly Noise _noise = new(seed);

    /// <summary>Level by radar, m.</summary>
    public double Level { get; private set; }

    /// <summary>Mass on the load cells, kg.</summary>
    public double Mass { get; private set; }

    /// <summary>Temperatures of the three cables, °C.</summary>
    public double[] Cables { get; } = [18, 18, 18];

    /// <summary>True while air is blown through; operators switch it.</summary>
    public bool IsAired { get; set; }

    /// <summary>Puts it where it is at a time since the beginning.</summary>
    public void AdvanceTo(TimeSpan elapsed)
    {
        var (hours, tick) = (elapsed.TotalHours, (long)(elapsed.TotalSeconds / 20));
        var base0 = 9 + 6 * _noise.At(0, 1);
        Level = Math.Clamp(base0 + 2.2 * Math.Sin(hours / 9 + 3 * _noise.At(0, 2)), 0.4, 17.4) + 0.01 * _noise.At(tick, 3);
        Mass = Level < 4 ? 1000 * (Level * Level * 5.25) : 1000 * (84 + (Level - 4) * 36);
        for (var i = 0; i < Cables.Length; i++)
            Cables[i] =
                (IsAired ? 14 : 17.5)
                + 2.5 * _noise.At(0, 4 + (ulong)i)
                + 0.4 * Math.Sin(hours / 12 + i)
                + 0.05 * _noise.At(tick, 8 + (ulong)i);
    }
}
