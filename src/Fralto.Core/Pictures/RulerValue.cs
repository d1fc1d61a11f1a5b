namespace Fralto.Core.Pictures;

/// <summary>What a ruler is to show of one instance.</summary>
/// <param name="Name">The instance.</param>
/// <param name="Value">Its value in the property's unit; left out when it is not finite.</param>
/// <param name="Abnormal">True when a limit is exceeded or the value is not Good.</param>
/// <param name="Detail">What is said of it on hover and focus.</param>
public readonly record struct RulerValue(string Name, double Value, bool Abnormal, string Detail = "");
