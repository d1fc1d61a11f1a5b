namespace Fralto.Core.Pictures;

/// <summary>One stage of a chain as people read it.</summary>
/// <param name="Name">What happens here.</param>
/// <param name="How">By which rule, in words.</param>
/// <param name="Number">What comes out.</param>
/// <param name="Objection">What speaks against it here; null when nothing does.</param>
public sealed record ChainStage(string Name, string How, string Number, string? Objection = null);
