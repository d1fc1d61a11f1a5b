using Fralto.Core.Properties;

namespace Fralto.Web.Pages;

/// <summary>A property that a formula takes, or that takes it.</summary>
/// <param name="Property">The property.</param>
/// <param name="Words">How it is named there, or where it stands.</param>
/// <param name="Href">Where it is shown.</param>
/// <param name="Uses">What it takes itself.</param>
public sealed record FormulaNeighbour(ResolvedProperty Property, string Words, string Href, IReadOnlyList<FormulaNeighbour> Uses)
{
    /// <summary>Calculated or fixed, or read from a tag.</summary>
    public string Mark =>
        Property.TakesTag ? "●"
        : Property.Declaration.Kind == PropertyKind.Entered ? "✎"
        : "=";
}
