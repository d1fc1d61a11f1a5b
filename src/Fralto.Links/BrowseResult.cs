using Fralto.Core.Controllers;

namespace Fralto.Links;

/// <summary>What browsing found.</summary>
/// <param name="Items">What could become tags, in the order of their paths.</param>
/// <param name="Problem">Why nothing, or not everything, was listed; null when all is well.</param>
public sealed record BrowseResult(IReadOnlyList<SourceItem> Items, string? Problem = null);
