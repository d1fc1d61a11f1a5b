using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Rules;

/// <summary>Which tag, or part of one, can feed which property.</summary>
public static class BindingRules
{
    /// <summary>Why the tag cannot feed the property; null when it can.</summary>
    public static string? Misfit(PlantModel model, ResolvedProperty property, Tag tag, Slice? slice = null) =>
        !property.TakesTag
            ? $"{property.Name} is {property.Declaration.Kind.ToString().ToLowerInvariant()}; it takes no tag."
            : SliceMisfit(tag, slice) ?? TypeMisfit(property, tag, slice) ?? UnitMisfit(model, property, tag);

    /// <summary>Why neither a tag nor any part of it can feed the property; null when some part may.</summary>
    public static string? PartMisfit(PlantModel model, ResolvedProperty property, Tag tag)
    {
        var element = tag.IsArray ? 0 : (int?)null;
        if (Misfit(model, property, tag, element is null ? null : new(element)) is not { } misfit)
            return null;
        if (tag.Type.SliceableBits() == 0)
            return misfit;
        var bits = property.Declaration.Type == PropertyType.Boolean ? 1 : 2;
        return Misfit(model, property, tag, new(element, 0, bits)) is null ? null : misfit;
    }

    /// <summary>True when part of a tag may be what a property needs: an element of an array, or bits of a word.</summary>
    /// <param name="tag">The tag.</param>
    /// <param name="property">The property; null for any.</param>
    public static bool TakesPart(Tag tag, ResolvedProperty? property) =>
        tag.IsArray
        || (
            tag.Type.SliceableBits() > 0
            && (property is null || property.Declaration.Type is PropertyType.Boolean or PropertyType.State or PropertyType.Integer)
        );

    /// <summary>Why a slice cannot be taken of a tag; null when it can.</summary>
    public static string? SliceMisfit(Tag tag, Slice? slice)
    {
        if (tag.IsArray && slice?.Element is null)
            return $"{tag.Name} holds {tag.Count} elements; say which, from [0] to [{tag.Count - 1}].";
        if (slice is not { } part)
            return null;
        if (part.Element is { } element)
        {
            if (!tag.IsArray)
                return $"{tag.Name} is a single {tag.Type.Word()}; it has no element [{element}].";
            if (element < 0 || element >= tag.Count)
                return $"{tag.Name} has the elements [0] to [{tag.Count - 1}], not [{element}].";
        }
        if (part.FirstBit is not { } first)
            return null;
        if (tag.Type.SliceableBits() is not (> 0 and var bits))
            return $"{tag.Name} is {tag.Type.Word()}; bits are taken from whole numbers of 8, 16 or 32 bits.";
        return first < 0 || part.BitCount < 1 || first + part.BitCount > bits
            ? $"{tag.Name} has the bits .0 to .{bits - 1}; {part} reaches beyond."
            : null;
    }

    private static string? TypeMisfit(ResolvedProperty property, Tag tag, Slice? slice)
    {
        var type = property.Declaration.Type;
        var isBit = tag.Type == RawType.Bool || slice is { IsBit: true };
        var what = slice is { } part ? $"{tag.Name}{part}" : tag.Name;
        return type switch
        {
            PropertyType.Time => $"{property.Name} is {type.Words()}; no tag yields that.",
            PropertyType.Text when tag.Type != RawType.Text => $"{property.Name} is text, {what} is {tag.Type.Word()}.",
            PropertyType.State or PropertyType.Boolean when tag.Type == RawType.Text && property.Facts.StateListId is not null => null,
            not PropertyType.Text when tag.Type == RawType.Text => $"{property.Name} is {type.Words()}, {what} is text.",
            PropertyType.Number when isBit => $"{property.Name} is a number, {what} a single bit.",
            PropertyType.Integer when isBit => $"{property.Name} is a whole number, {what} a single bit.",
            PropertyType.Integer when tag.Type.IsFloat() => $"{property.Name} is a whole number, {what} is {tag.Type.Word()}.",
            PropertyType.Boolean when tag.Type.IsFloat() => $"{property.Name} is true or false, {what} is {tag.Type.Word()}.",
            PropertyType.State when tag.Type.IsFloat() => $"{property.Name} is a state, {what} is {tag.Type.Word()}.",
            _ => null,
        };
    }

    private static string? UnitMisfit(PlantModel model, ResolvedProperty property, Tag tag)
    {
        if (model.Units.Find(tag.Unit) is not { } given)
            return null;
        var scale = model.ScaleOf(property.Facts);
        if (scale?.Signal.Unit is { } signal)
            return signal == tag.Unit
                ? null
                : $"{tag.Name} gives {given.Symbol}, the signal {scale.Signal.Words} is in {model.Units.SymbolOf(signal)}; choose "
                    + $"another signal for {property.Name}.";
        if (model.Units.Find(scale?.YieldedUnit ?? property.Facts.Unit) is not { } wanted)
            return null;
        return UnitConversion.Between(given, wanted) is null
            ? $"{tag.Name} gives {given.Symbol} ({given.Quantity}), {property.Name} is in {wanted.Symbol} ({wanted.Quantity}); no "
                + $"factor leads from one to the other."
            : null;
    }
}
