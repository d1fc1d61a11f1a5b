using System.Globalization;
using Fralto.Core.Hierarchy;

namespace Fralto.Core.NamingRules;

/// <summary>A number of a node, taken so many times.</summary>
/// <param name="Place">The node.</param>
/// <param name="Kind">Which of its numbers.</param>
/// <param name="Times">The step from one instance to the next.</param>
public sealed record NumberTerm(PlaceRef Place, NumberKind Kind, long Times)
{
    /// <inheritdoc/>
    public override string ToString() =>
        $"{(Place == PlaceRef.Self ? "" : $"{Place}.")}{Kind.ToString().ToLowerInvariant()}"
        + $"{(Times == 1 ? "" : $"*{Times.ToString(CultureInfo.InvariantCulture)}")}";
}
