namespace Fralto.Core.Pictures;

/// <summary>A stretch of a ruler from left to right.</summary>
public readonly record struct RulerStretch(double Left, double Right)
{
    /// <summary>How wide it is, as a share of the ruler.</summary>
    public double Width => Math.Max(0, Right - Left);
}
