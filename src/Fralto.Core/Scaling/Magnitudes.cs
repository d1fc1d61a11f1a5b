namespace Fralto.Core.Scaling;

/// <summary>Between what sizes a raw number has been, its sign and 0 left out.</summary>
/// <param name="Least">The smallest, above 0; infinite before the first.</param>
/// <param name="Most">The largest; 0 before the first.</param>
/// <remarks>Kept as 32-bit floats: what is looked at is the exponent. Beyond their reach the smallest they can hold and infinity stand for
/// it.</remarks>
public readonly record struct Magnitudes(float Least, float Most)
{
    /// <summary>Of a tag that has had no value.</summary>
    public static readonly Magnitudes None = new(float.PositiveInfinity, 0);

    /// <summary>The same with one more number, which is finite.</summary>
    public Magnitudes With(double raw)
    {
        if (raw == 0)
            return this;
        var size = Math.Max((float)Math.Abs(raw), float.Epsilon);
        return new(Math.Min(Least, size), Math.Max(Most, size));
    }
}
