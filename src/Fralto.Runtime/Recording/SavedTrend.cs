namespace Fralto.Runtime.Recording;

/// <summary>A trend that is kept under a name: with a template, for each of its instances.</summary>
/// <param name="Name">What people call it; one of a name with a template.</param>
/// <param name="TemplateId">The template; null for lines that were chosen one by one.</param>
/// <param name="Query">What the address of the trends asks for, without template and instances.</param>
public sealed record SavedTrend(string Name, long? TemplateId, string Query);
