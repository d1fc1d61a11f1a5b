using Fralto.Core.Controllers;

namespace Fralto.Core.Planning;

/// <summary>One tag of a plan, or one element of an array; the elements of a tag stand together.</summary>
/// <param name="TagId">The tag, or the id the samples of a simulation carry.</param>
/// <param name="ControllerId">The controller it lives in; 0 for a simulation.</param>
/// <param name="Element">Which element of an array it is; 0 for a single value.</param>
/// <param name="StaleAfter">Without an update for this long its value counts as stale.</param>
/// <param name="Tag">How it is read; null for a simulation.</param>
public sealed record PlanTag(long TagId, long ControllerId, int Element, TimeSpan StaleAfter, Tag? Tag = null)
{
    /// <summary>In place of a tag's id: it is no tag, and keeps the value of a point that has none.</summary>
    public const long NoTag = -1;

    /// <summary>True when what another plan's tag has held is what this one would have held.</summary>
    public bool IsReadAs(PlanTag other) =>
        (TagId, Element) == (other.TagId, other.Element)
        && (
            ReferenceEquals(Tag, other.Tag)
            || (Tag is { } one && other.Tag is { } two && (one.Address, one.Type, one.WordOrder) == (two.Address, two.Type, two.WordOrder))
        );
}
