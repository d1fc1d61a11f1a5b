using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.NamingRules;
using Fralto.Core.Properties;

namespace Fralto.Core.Templates;

/// <summary>What a kind of equipment has (ISA-95: equipment class), with single inheritance.</summary>
/// <param name="Id">Stable and opaque.</param>
/// <param name="Code">Short form, unique among templates.</param>
/// <param name="Name">What people call it.</param>
/// <param name="ParentId">The template it inherits from; null at the root of a family.</param>
/// <param name="Description">One or two lines on what it is for.</param>
public sealed record Template(long Id, string Code, string Name, long? ParentId, string Description) : Entity(Id)
{
    /// <summary>The properties this template declares itself, in the order they are shown.</summary>
    public ImmutableArray<PropertyDeclaration> Properties { get; init; } = [];

    /// <summary>The parts this template declares itself, in the order instances get them.</summary>
    public ImmutableArray<TemplatePart> Parts { get; init; } = [];

    /// <summary>The levels instances may stand at; empty for those of the template it inherits from, and for any at the root.</summary>
    public ImmutableArray<EquipmentLevel> Levels { get; init; } = [];

    /// <summary>Labels every instance has.</summary>
    public ImmutableSortedDictionary<string, string> Labels { get; init; } = Basics.Labels.None;

    /// <summary>What this template says about its own and its inherited properties, by property id.</summary>
    public ImmutableDictionary<long, PropertyPatch> Patches { get; init; } = ImmutableDictionary<long, PropertyPatch>.Empty;

    /// <summary>Naming rules kept for its properties and those it inherits: at most one for each property and text of a tag.</summary>
    public ImmutableArray<NamingRule> Rules { get; init; } = [];

    /// <inheritdoc/>
    public bool Equals(Template? other) =>
        other is not null
        && (Id, Code, Name, ParentId, Description) == (other.Id, other.Code, other.Name, other.ParentId, other.Description)
        && Properties.SequenceEqual(other.Properties)
        && Parts.SequenceEqual(other.Parts)
        && Levels.SequenceEqual(other.Levels)
        && Labels.SequenceEqual(other.Labels)
        && PropertyPatch.SameLayer(Patches, other.Patches)
        && Rules.SequenceEqual(other.Rules);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Id, Code, Name, ParentId, Properties.Length);
}
