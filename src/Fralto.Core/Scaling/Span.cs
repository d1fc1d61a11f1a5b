namespace Fralto.Core.Scaling;

/// <summary>A directed stretch of the number line. Low may lie above High (an inverted span); an empty one measures nothing.</summary>
public readonly record struct Span(double Low, double High)
{
    /// <summary>This span as far as it lies in another; an end beyond it is that of the other.</summary>
    public Span Within(Span other) => new(Math.Clamp(Low, other.Minimum, other.Maximum), Math.Clamp(High, other.Minimum, other.Maximum));

    /// <summary>Signed width, High - Low.</summary>
    public double Width => High - Low;

    /// <summary>The smaller of the two ends.</summary>
    public double Minimum => Math.Min(Low, High);

    /// <summary>The larger of the two ends.</summary>
    public double Maximum => Math.Max(Low, High);

    /// <summary>Two finite ends that differ.</summary>
    public bool IsUsable => double.IsFinite(Low) && double.IsFinite(High) && Low != High && double.IsFinite(Width);

    /// <summary>Where a value lies: 0 at Low, 1 at High, beyond them outside.</summary>
    public double FractionOf(double value) => (value - Low) / (High - Low);

    /// <summary>The value at a fraction; exact at 0 and at 1.</summary>
    public double At(double fraction) => Low * (1 - fraction) + High * fraction;

    /// <summary>True between the ends, both included. Not-a-number lies nowhere.</summary>
    public bool Contains(double value) => value >= Minimum && value <= Maximum;
}
