using System.Globalization;
using Fralto.Core.Hierarchy;

namespace Fralto.Core.NamingRules;

/// <summary>A number of a node, taken so many times.</summary>
/// <param name="Place">The node.</param>
/// <param name="Kind">Which of its numbers.</param>
/// <param name="Times">The step from one instance to the next.</param>
public sealed record NumberTerm(PlaceRef Place, NumberKind Kind, long Times)
{
    /// <summary>True for a number that is said of the node, and no position.</summary>
    internal bool IsSaid => Kind is NumberKind.Number or NumberKind.Tail or NumberKind.Head;

    /// <summary>True when the digits of the number stay as they are, at one place or another.</summary>
    internal bool KeepsDigits => Times is 1 or 10 or 100 or 1000 or 10_000;

    /// <inheritdoc/>
    public override string ToString() =>
        $"{(Place == PlaceRef.Self ? "" : $"{Place}.")}{Kind.ToString().ToLowerInvariant()}"
        + $"{(Times == 1 ? "" : $"*{Times.ToString(CultureInfo.InvariantCulture)}")}";
}
