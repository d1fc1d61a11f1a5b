using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;

namespace Fralto.Core.Commands;

/// <summary>A value that somebody wants a command property to have, turned round through scale and raw type into what is written.</summary>
/// <param name="Path">Path of the property.</param>
/// <param name="Property">The property, as it is resolved for the instance.</param>
/// <param name="Wanted">The value asked for, in the property's unit; not-a-number for text.</param>
/// <param name="Effective">The value that what is written stands for: the wanted one, rounded as the raw type rounds.</param>
/// <param name="Text">The value in words, with its unit.</param>
/// <param name="Write">What goes to the controller.</param>
public sealed record CommandOrder(string Path, ResolvedProperty Property, double Wanted, double Effective, string Text, TagWrite Write)
{
    /// <summary>Works out what a command writes; null with the reason when it cannot be given.</summary>
    /// <param name="model">The model.</param>
    /// <param name="equipmentId">The instance.</param>
    /// <param name="propertyId">The property.</param>
    /// <param name="text">The value as it is typed: a number in the property's unit, a state by name or number, true or false, or
    /// text.</param>
    /// <param name="problem">Why not.</param>
    public static CommandOrder? Read(PlantModel model, long equipmentId, long propertyId, string text, out string? problem)
    {
        problem = null;
        if (
            !model.Equipment.TryGetValue(equipmentId, out var instance)
            || model.Index.PropertiesOf(instance).FirstOrDefault(p => p.Id == propertyId) is not { } property
        )
            return No("The property no longer exists.", out problem);
        var path = $"{model.Index.PathOf(equipmentId)}/{property.Code}";
        if (property.Declaration.Kind != PropertyKind.Command)
            return No(
                $"{property.Name} is {property.Declaration.Kind.ToString().ToLowerInvariant()}; only a command can be given.",
                out problem
            );
        if (!model.Bindings.TryGetValue((equipmentId, propertyId), out var binding))
            return No($"{property.Name} has no tag; bind it first.", out problem);
        if (binding.Simulation is not null)
            return No($"{property.Name} is being simulated; switch it back to its tag first.", out problem);
        var tag = model.Tags[binding.TagId];
        if (tag.WhyReadOnly is { } readOnly)
            return No(readOnly, out problem);
        text = text.Trim();
        if (text.Length == 0)
            return No("Give the value.", out problem);
        if (property.Declaration.Type == PropertyType.Text)
            return TagWrite.Read(tag, text, out problem) is { } words ? new(path, property, double.NaN, double.NaN, text, words) : null;
        if (Number(model, property, text, out problem) is not { } wanted)
            return null;
        if (tag.Type == RawType.Text)
        {
            // A text tag is told a state as it says it itself.
            var said = property.Facts.StateListId is { } list ? model.StateLists[list].StateOf(wanted) : null;
            return TagWrite.Read(tag, said is { } state ? state.Key ?? state.Name : text, out problem) is { } told
                ? new(path, property, wanted, wanted, Words(model, property, wanted), told)
                : null;
        }
        var chain = model.ChainOf(property.Facts, tag.Unit, binding.Slice) with { Slice = null };
        var raw = chain.Invert(wanted);
        if (!double.IsFinite(raw))
            return No(
                $"{property.Name} cannot be commanded: {chain.Scale?.WhyNoInverse ?? "its scale does not reach this value"}.",
                out problem
            );
        if (TagWrite.Of(tag, raw, binding.Slice, out var misfit) is not { } write)
            return No($"{tag.Name} cannot take this: {misfit}", out problem);
        var effective = chain.Compute(write.Raw).Value;
        return new(path, property, wanted, effective, Words(model, property, wanted), write);
    }

    private static double? Number(PlantModel model, ResolvedProperty property, string text, out string? problem)
    {
        problem = null;
        var states = property.Facts.StateListId is { } set ? model.StateLists.GetValueOrDefault(set) : null;
        if (property.Declaration.Type is PropertyType.State or PropertyType.Boolean && states is not null)
        {
            if (states.StateOf(text) is { } state)
                return state.Value;
            if (property.Declaration.Type == PropertyType.Boolean && bool.TryParse(text, out var its))
                return its ? 1 : 0;
            problem = $"{states.Name} has no state '{text}'{Naming.OrNearest(text, states.States.Select(s => s.Name))}";
            return null;
        }
        if (property.Declaration.Type == PropertyType.Boolean && bool.TryParse(text, out var on))
            return on ? 1 : 0;
        if (FieldText.Number(text, out problem) is not { } number)
            return null;
        if (property.Declaration.Type != PropertyType.Number && number != Math.Floor(number))
            problem = $"{property.Name} is {property.Declaration.Type.Words()}; {text} is not whole.";
        else if (property.Declaration.Type == PropertyType.Boolean && number is not (0 or 1))
            problem = $"{property.Name} is true or false.";
        else if (model.RangeOf(property.Facts) is { } range && !range.Contains(number))
            problem = string.Create(CultureInfo.InvariantCulture, $"{number} is outside the range, {range.Minimum} to {range.Maximum}.");
        return problem is null ? number : null;
    }

    private static string Words(PlantModel model, ResolvedProperty property, double value)
    {
        if (property.Facts.StateListId is { } set && model.StateLists.TryGetValue(set, out var states) && states.NameOf(value) is { } name)
            return name;
        if (property.Declaration.Type == PropertyType.Boolean)
            return value == 0 ? "false" : "true";
        return $"{value.ToString("0.##########", CultureInfo.InvariantCulture)} {model.Units.SymbolOf(property.Facts.Unit)}".TrimEnd();
    }

    private static CommandOrder? No(string reason, out string? problem)
    {
        problem = reason;
        return null;
    }
}
