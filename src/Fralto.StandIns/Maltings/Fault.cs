namespace Fralto.StandIns.Maltings;

/// <summary>Something in the stand-in plant that can be broken and mended.</summary>
/// <param name="Key">Short form for commands, for example kiln-plc-gone.</param>
/// <param name="Controller">The stand-in it belongs to.</param>
/// <param name="Text">What it does, in words.</param>
/// <param name="IsOn">True while it is broken.</param>
public sealed record Fault(string Key, string Controller, string Text, bool IsOn);
