namespace Fralto.Core.Properties;

/// <summary>One named value of a state list.</summary>
/// <param name="Value">The number that stands for it.</param>
/// <param name="Name">What people call it.</param>
/// <param name="IsAbnormal">True when it is not as it should be; it is shown so wherever the value is.</param>
/// <param name="Key">What a text says for it, as in a JSON payload; null when texts say its name.</param>
public readonly record struct State(int Value, string Name, bool IsAbnormal = false, string? Key = null);
