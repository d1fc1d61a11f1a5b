namespace Fralto.Core.Properties;

/// <summary>One named value of a state set.</summary>
public readonly record struct State(int Value, string Name);
