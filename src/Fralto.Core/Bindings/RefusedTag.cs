namespace Fralto.Core.Bindings;

/// <summary>A tag a person has said is not the right one for a property of an instance.</summary>
/// <param name="PropertyId">The property.</param>
/// <param name="TagId">The tag.</param>
public readonly record struct RefusedTag(long PropertyId, long TagId);
