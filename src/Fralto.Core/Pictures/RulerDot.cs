namespace Fralto.Core.Pictures;

/// <summary>The live value of an instance on a ruler.</summary>
/// <param name="Name">The instance.</param>
/// <param name="X">Where the value lies; values beyond the range stand at its end.</param>
/// <param name="Lane">From the top: 0 to <see cref="Ruler.DotLanes"/> - 1 for dots with a name, the lane below them for those
/// without.</param>
/// <param name="Named">False when its name would cover another; the dot stands without.</param>
/// <param name="NameLeft">True when the name stands left of the dot, at the right end of the ruler.</param>
/// <param name="Abnormal">True when a limit is exceeded, the value is not Good or it lies beyond the range.</param>
/// <param name="Detail">What is said of it on hover and focus.</param>
public readonly record struct RulerDot(string Name, double X, int Lane, bool Named, bool NameLeft, bool Abnormal, string Detail);
