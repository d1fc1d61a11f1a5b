using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>A property that is made of a tag.</summary>
/// <param name="TagId">The tag; it feeds the property of the instance that is made.</param>
/// <param name="Name">Name of the property.</param>
/// <param name="Unit">Code of its unit; null for none.</param>
/// <param name="Range">Its range, in the unit; null when it is not known.</param>
public sealed record MadeProperty(long TagId, string Name, string? Unit, Span? Range);
