using Fralto.Core.Controllers;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Core.Binding;

/// <summary>Which tag can feed which property.</summary>
public static class BindingRules
{
    /// <summary>Why the tag cannot feed the property; null when it can.</summary>
    public static string? Misfit(ResolvedProperty property, Tag tag)
    {
        if (!property.TakesTag) return $"{property.Name} is {property.Declaration.Kind.ToString().ToLowerInvariant()}; it takes no tag.";
        var isFloat = tag.Type == RawType.Float32;
        return property.Declaration.Type switch
        {
            PropertyType.Number when tag.Type == RawType.Bool => $"{property.Name} is a number, {tag.Name} a single bit.",
            PropertyType.Integer when tag.Type == RawType.Bool => $"{property.Name} is a whole number, {tag.Name} a single bit.",
            PropertyType.Integer when isFloat => $"{property.Name} is a whole number, {tag.Name} a float32.",
            PropertyType.Boolean when isFloat => $"{property.Name} is true or false, {tag.Name} a float32.",
            PropertyType.State when isFloat => $"{property.Name} is a state, {tag.Name} a float32.",
            PropertyType.Text or PropertyType.Time => $"{property.Name} is {property.Declaration.Type.Words()}; no Modbus type of this version yields that.",
            _ => null,
        };
    }
}
