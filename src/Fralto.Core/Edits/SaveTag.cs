using Fralto.Core.Binding;
using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>Declares a tag, or changes one when an id is given.</summary>
public sealed record SaveTag(long? Id, long ControllerId, string Name, RegisterArea Area, int Offset, RawType Type, WordOrder WordOrder, string Description, int Elements = 1, string? Unit = null) : Edit
{
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Controllers.TryGetValue(ControllerId, out var controller)) return Gone("The controller");
        Tag? before = null;
        if (Id is { } id && !model.Tags.TryGetValue(id, out before)) return Gone("The tag");
        var address = new ModbusAddress(Area, Offset);
        var after = new Tag(Id ?? model.NextId, ControllerId, Name, address, Type, Type == RawType.Bool && (address.IsBit || Elements == 1) ? WordOrder.HighFirst : WordOrder, Description, Elements, Unit);
        var problems = EntityRules.Problems(model, after).ToList();
        if (model.Index.TagsOf(ControllerId).Any(t => t.Id != Id && string.Equals(t.Name, Name, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Name), $"{controller.Name} already has a tag named {Name}."));
        foreach (var bound in before is null ? [] : model.Index.BindingsOf(before.Id))
        {
            var instance = model.Equipment[bound.EquipmentId];
            var property = model.Index.PropertiesOf(instance).First(p => p.Id == bound.PropertyId);
            if (BindingRules.Misfit(model, property, after, bound.Slice) is { } misfit)
                problems.Add(new(nameof(Type), $"{model.Index.PathOf(instance.Id)} is bound to this tag: {misfit}"));
        }
        return problems.Count > 0
            ? EditOutcome.Refused(problems)
            : EditOutcome.Changed($"{(before is null ? "Declare" : "Change")} tag {Name} on {controller.Name}", new ModelChange(before, after));
    }
}
