namespace Fralto.Core.Limits;

/// <summary>One axis mark of a ruler.</summary>
/// <param name="X">Where it stands.</param>
/// <param name="Engineering">The engineering value in words.</param>
/// <param name="Raw">The raw signal at the same place; null without a scale.</param>
public readonly record struct RulerTick(double X, string Engineering, string? Raw);
