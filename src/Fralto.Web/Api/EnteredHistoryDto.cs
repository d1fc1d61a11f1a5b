namespace Fralto.Web.Api;

/// <summary>Values of the past that were taken in, or would be.</summary>
/// <param name="Path">The property.</param>
/// <param name="Count">How many.</param>
/// <param name="From">The first.</param>
/// <param name="To">The last.</param>
/// <param name="IsTakenIn">False where it was only asked for.</param>
internal sealed record EnteredHistoryDto(string Path, int Count, DateTime From, DateTime To, bool IsTakenIn);
