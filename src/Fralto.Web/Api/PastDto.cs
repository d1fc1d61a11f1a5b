namespace Fralto.Web.Api;

/// <summary>Values of the past of one property.</summary>
/// <param name="Path">The property.</param>
/// <param name="Values">The values, in any order.</param>
internal sealed record PastDto(string? Path, IReadOnlyList<PastValueDto?>? Values);
