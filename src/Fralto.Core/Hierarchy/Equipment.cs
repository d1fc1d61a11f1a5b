using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Properties;

namespace Fralto.Core.Hierarchy;

/// <summary>One node of the plant.</summary>
/// <param name="Id">Stable and opaque; never reused.</param>
/// <param name="Code">Short form used in paths, unique among siblings.</param>
/// <param name="Name">What people call it.</param>
/// <param name="Level">ISA-95 or ISA-88 level.</param>
/// <param name="ParentId">The node it sits below; null for an enterprise.</param>
/// <param name="TemplateId">The template it is an instance of; null for a mere place.</param>
/// <param name="Order">Position among its siblings.</param>
/// <param name="PartId">The part of the parent's template it was made from; null when it was put there by hand.</param>
public sealed record Equipment(
    long Id,
    string Code,
    string Name,
    EquipmentLevel Level,
    long? ParentId,
    long? TemplateId,
    int Order,
    long? PartId = null
) : Entity(Id)
{
    /// <summary>Its own labels; those of places above and of its template are inherited.</summary>
    public ImmutableSortedDictionary<string, string> Labels { get; init; } = Basics.Labels.None;

    /// <summary>What this instance says about its properties, by property id: the last layer.</summary>
    public ImmutableDictionary<long, PropertyPatch> Patches { get; init; } = ImmutableDictionary<long, PropertyPatch>.Empty;

    /// <summary>Tags a person has refused for its properties; they are not proposed again. One that is gone says nothing.</summary>
    public ImmutableHashSet<RefusedTag> Refused { get; init; } = [];

    /// <summary>True when the tag was refused for the property.</summary>
    public bool Refuses(long propertyId, long tagId) => !Refused.IsEmpty && Refused.Contains(new(propertyId, tagId));

    /// <inheritdoc/>
    public bool Equals(Equipment? other) =>
        other is not null
        && (Id, Code, Name, Level, ParentId, TemplateId, Order)
            == (other.Id, other.Code, other.Name, other.Level, other.ParentId, other.TemplateId, other.Order)
        && PartId == other.PartId
        && Labels.SequenceEqual(other.Labels)
        && PropertyPatch.SameLayer(Patches, other.Patches)
        && Refused.SetEquals(other.Refused);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Id, Code, Name, ParentId, Order);
}
