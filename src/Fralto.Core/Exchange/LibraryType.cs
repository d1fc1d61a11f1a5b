using System.Collections.Immutable;
using Fralto.Core.Basics;

namespace Fralto.Core.Exchange;

/// <summary>An object type.</summary>
/// <param name="Id">What it is referred to by.</param>
/// <param name="Code">Its name.</param>
/// <param name="Name">What people call it.</param>
/// <param name="Description">What it says of itself.</param>
/// <param name="BaseId">The type it is a kind of; null for none.</param>
/// <param name="Variables">What it has beside what its base has.</param>
/// <param name="Parts">Objects that each of its objects has.</param>
public sealed record LibraryType(
    string Id,
    string Code,
    string Name,
    string Description,
    string? BaseId,
    ImmutableArray<LibraryVariable> Variables,
    ImmutableArray<LibraryPart> Parts
)
{
    /// <summary>Levels its objects may stand at; empty for any.</summary>
    public ImmutableArray<EquipmentLevel> Levels { get; init; } = [];
}
