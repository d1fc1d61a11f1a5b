using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;

namespace Fralto.Core.Exchange;

/// <summary>An object.</summary>
/// <param name="Id">What it is referred to by.</param>
/// <param name="Code">Its name.</param>
/// <param name="Name">What people call it.</param>
/// <param name="ParentId">The object it stands below; null at the top.</param>
/// <param name="TypeId">Its type; null for a place that has none.</param>
/// <param name="Level">The level it stands at; null where it does not say.</param>
/// <param name="Tags">Its variables as they could become tags, each with the names that lead to it from the object.</param>
public sealed record LibraryObject(
    string Id,
    string Code,
    string Name,
    string? ParentId,
    string? TypeId,
    EquipmentLevel? Level,
    ImmutableArray<SourceItem> Tags
)
{
    /// <summary>What it says of its variables itself, beside its type.</summary>
    public ImmutableArray<LibraryVariable> Variables { get; init; } = [];
}
