using Fralto.Core.Hierarchy;

namespace Fralto.Core.NamingRules;

/// <summary>An instance as naming rules follow it: numbers and texts of itself and of the places above it.</summary>
internal interface IFollowed
{
    /// <summary>The places above it from the top, and itself at the end.</summary>
    IReadOnlyList<Equipment> Lineage { get; }

    /// <summary>A number of the instance or of a place above it; null when it has none.</summary>
    long? NumberOf(PlaceRef place, NumberKind kind);

    /// <summary>A text of the instance or of a place above it, as a key; null when it has none.</summary>
    string? TextOf(TextPiece piece);
}
