namespace Fralto.StandIns.Maltings;

/// <summary>Noise that depends on its seed, step and channel only, so that the same time always shows the same values (mixing function of
/// SplitMix64).</summary>
internal readonly record struct Noise(ulong Seed)
{
    /// <summary>A number from -1 to 1.</summary>
    public double At(long step, ulong channel)
    {
        var z = Seed * 0x9E3779B97F4A7C15UL + (ulong)step * 0xBF58476D1CE4E5B9UL + channel * 0x94D049BB133111EBUL;
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9UL;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBUL;
        z ^= z >> 31;
        return (z >> 11) * (2.0 / (1UL << 53)) - 1;
    }
}
