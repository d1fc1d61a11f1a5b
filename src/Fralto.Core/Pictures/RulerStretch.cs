namespace Fralto.Core.Pictures;

/// <summary>A stretch of a ruler from left to right.</summary>
public readonly record struct RulerStretch(double Left, double Right)
{
    public double Width => Math.Max(0, Right - Left);
}
