using Fralto.Core.Controllers;

namespace Fralto.Links;

/// <summary>What browsing found.</summary>
/// <param name="Items">What could become tags, in the order of their paths.</param>
/// <param name="Problem">Why nothing, or not everything, was listed; null when all is well.</param>
/// <param name="Continuation">What to ask with for more; null when there is no more to be found by asking.</param>
public sealed record BrowseResult(IReadOnlyList<SourceItem> Items, string? Problem = null, string? Continuation = null)
{
    /// <summary>This with what going on has found: what was found again is as it is now, and its problem is that of the last
    /// answer unless there is something to show.</summary>
    /// <param name="further">The answer to going on.</param>
    public BrowseResult With(BrowseResult further)
    {
        var items = Items
            .Concat(further.Items)
            .GroupBy(i => i.Address.ToString(), StringComparer.Ordinal)
            .Select(g => g.Last())
            .OrderBy(i => i.PathText, StringComparer.Ordinal)
            .ToArray();
        return new(items, further.Items.Count == 0 && Items.Count > 0 ? null : further.Problem, further.Continuation);
    }
}
