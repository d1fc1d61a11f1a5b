namespace Fralto.Core.Exchange;

/// <summary>A column of a tag list and what it is taken for.</summary>
/// <param name="Field">What it says.</param>
/// <param name="Index">Its index in the table.</param>
/// <param name="Why">How that is known, in words.</param>
public sealed record TagColumn(TagField Field, int Index, string Why);
