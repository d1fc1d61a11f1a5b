namespace Fralto.Core.Bindings;

/// <summary>Says that somebody has looked at a binding on the plant and found it right.</summary>
/// <param name="By">Who.</param>
/// <param name="At">When.</param>
public sealed record BindingCheck(string By, DateTimeOffset At);
