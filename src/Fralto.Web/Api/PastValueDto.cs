using System.Text.Json;

namespace Fralto.Web.Api;

/// <summary>One value of the past.</summary>
/// <param name="Time">When it was: ISO 8601, UTC when no zone is said.</param>
/// <param name="Value">A number in the property's unit, a state or text; null for a gap.</param>
internal sealed record PastValueDto(string? Time, JsonElement? Value);
