using Fralto.Core.Basics;
using Fralto.Core.Scaling;

namespace Fralto.Core.Controllers;

/// <summary>What several tags get; what is null stays as each of them has it.</summary>
public sealed record TagPatch
{
    /// <summary>Name of the update class; empty for the controller's own interval.</summary>
    public string? UpdateClass { get; init; }

    /// <summary>Code of the unit the device gives; empty for none.</summary>
    public string? Unit { get; init; }

    /// <summary>Raw type.</summary>
    public RawType? Type { get; init; }

    /// <summary>Order of words and bytes; kept from where it has no meaning.</summary>
    public WordOrder? WordOrder { get; init; }

    /// <summary>Description; empty for none.</summary>
    public string? Description { get; init; }

    /// <summary>New names by what stands in the old ones.</summary>
    public RenamePattern? Rename { get; init; }

    /// <summary>A tag as it becomes.</summary>
    /// <param name="tag">The tag.</param>
    public Tag On(Tag tag)
    {
        var after = tag with
        {
            Name = Rename?.Of(tag.Name) ?? tag.Name,
            UpdateClass =
                UpdateClass is null ? tag.UpdateClass
                : UpdateClass.Length == 0 ? null
                : UpdateClass,
            Unit =
                Unit is null ? tag.Unit
                : Unit.Length == 0 ? null
                : Unit,
            Type = Type ?? tag.Type,
            Description = Description ?? tag.Description,
        };
        return WordOrder is { } order && tag.Address.HasWordOrder && !(after.Type == RawType.Bool && after.Count == 1)
            ? after with
            {
                WordOrder = order,
            }
            : after;
    }
}
