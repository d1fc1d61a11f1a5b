using Fralto.Core.Bindings;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Gives two properties each other's tags; an open one gets the other's tag and leaves that one open.</summary>
public sealed record SwapBindings((long EquipmentId, long PropertyId) One, (long EquipmentId, long PropertyId) Other) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var (one, other) = (model.Bindings.GetValueOrDefault(One), model.Bindings.GetValueOrDefault(Other));
        if (One == Other || (one is null && other is null))
            return EditOutcome.Refused("", "Swapping takes two cells, at least one of them bound.");
        var problems = new[] { (Cell: One, Takes: other), (Cell: Other, Takes: one) }
            .Select(s => Misfit(model, s.Cell, s.Takes))
            .OfType<string>()
            .ToArray();
        if (problems.Length > 0)
            return EditOutcome.Refused("", string.Join(" ", problems));
        return EditOutcome.Changed(
            $"Swap the tags of {Words(model, One)} and {Words(model, Other)}",
            new[] { Change(One, one, other), Change(Other, other, one) }
        );
    }

    private static ModelChange Change((long EquipmentId, long PropertyId) cell, PropertyBinding? had, PropertyBinding? gets) =>
        new(had, gets is null ? null : new PropertyBinding(cell.EquipmentId, cell.PropertyId, gets.TagId, gets.Slice, had?.Simulation));

    private static string? Misfit(PlantModel model, (long EquipmentId, long PropertyId) cell, PropertyBinding? takes)
    {
        if (
            !model.Equipment.TryGetValue(cell.EquipmentId, out var instance)
            || model.Index.PropertiesOf(instance).FirstOrDefault(p => p.Id == cell.PropertyId) is not { } property
        )
            return "The property no longer exists; reload the page.";
        if (takes is null)
            return null;
        var tag = model.Tags[takes.TagId];
        // A tag that feeds others beside the two is shared, and a command shares with nobody.
        return BindingRules.Misfit(model, property, tag, takes.Slice)
            ?? (
                property.Declaration.Kind == PropertyKind.Command
                && model
                    .Index.BindingsOf(takes.TagId)
                    .Any(b => b != takes && (b.EquipmentId, b.PropertyId) != cell && Scaling.Slice.Overlap(b.Slice, takes.Slice))
                    ? $"{tag.Name}{takes.Slice} feeds other properties too; a tag that takes commands feeds one property only."
                    : null
            );
    }

    private static string Words(PlantModel model, (long EquipmentId, long PropertyId) cell) =>
        $"{model.Equipment[cell.EquipmentId].Name} "
        + $"{model.Index.PropertiesOf(model.Equipment[cell.EquipmentId]).First(p => p.Id == cell.PropertyId).Name}";
}
