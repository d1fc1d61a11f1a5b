namespace Fralto.Core.Properties;

/// <summary>One named value of a state list.</summary>
public readonly record struct State(int Value, string Name);
