namespace Fralto.Runtime.Recording;

/// <summary>A trend that is kept under a name: with a template, for each of its instances; with a place; or for itself.</summary>
/// <param name="Name">What people call it; one of a name with a template or place.</param>
/// <param name="TemplateId">The template; null for lines that were chosen one by one.</param>
/// <param name="Query">What the address of the trends asks for, without template and instances where it is kept with a template.</param>
/// <param name="PlaceId">The place; null where it is kept with none.</param>
public sealed record SavedTrend(string Name, long? TemplateId, string Query, long? PlaceId = null);
