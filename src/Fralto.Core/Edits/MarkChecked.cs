using System.Collections.Immutable;
using Fralto.Core.Bindings;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Notes that bindings were checked on the plant, or that they have to be checked again. Binding anew makes a check void by
/// itself.</summary>
/// <param name="Cells">Instance and property of each binding.</param>
/// <param name="By">Who and when; null asks for another check.</param>
public sealed record MarkChecked(ImmutableArray<(long EquipmentId, long PropertyId)> Cells, BindingCheck? By) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (Cells.Any(c => !model.Bindings.ContainsKey(c)))
            return Gone("A binding");
        var changes = Cells
            .Distinct()
            .Select(c => model.Bindings[c])
            .Where(b => By is null ? b.Checked is not null : b.Checked is null)
            .Select(b => new ModelChange(b, b with { Checked = By }))
            .ToArray();
        if (changes.Length == 0)
            return EditOutcome.Refused("", By is null ? "None of these was checked." : "These were checked already.");
        var cell = (PropertyBinding)changes[0].Before!;
        var what =
            changes.Length == 1
                ? $"{model.Equipment[cell.EquipmentId].Name} "
                    + $"{model.Index.PropertiesOf(model.Equipment[cell.EquipmentId]).First(p => p.Id == cell.PropertyId).Name}"
                : Count(changes.Length, "binding");
        return EditOutcome.Changed(By is null ? $"Ask to check {what} again" : $"Mark {what} as checked", changes);
    }
}
