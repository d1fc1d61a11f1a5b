using Fralto.Core.Binding;
using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>Declares a tag, or changes one when an id is given.</summary>
public sealed record SaveTag(long? Id, long ControllerId, string Name, RegisterArea Area, int Offset, RawType Type, WordOrder WordOrder, string Description) : Edit
{
    /// <summary>Longest description of a tag, in characters.</summary>
    public const int LongestDescription = 200;

    public override EditOutcome On(PlantModel model)
    {
        if (!model.Controllers.TryGetValue(ControllerId, out var controller)) return Gone("The controller");
        Tag? before = null;
        if (Id is { } id && !model.Tags.TryGetValue(id, out before)) return Gone("The tag");
        var address = new ModbusAddress(Area, Offset);
        var after = new Tag(Id ?? model.NextId, ControllerId, Name, address, Type, RawCodec.WordsOf(Type) > 1 ? WordOrder : WordOrder.HighFirst, Description);
        var problems = new List<Problem>();
        Check(problems, nameof(Name), Naming.NameProblem(Name));
        if (model.Index.TagsOf(ControllerId).Any(t => t.Id != Id && string.Equals(t.Name, Name, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Name), $"{controller.Name} already has a tag named {Name}."));
        if (Offset is < 0 or > ModbusAddress.Highest)
            problems.Add(new(nameof(Offset), $"An address on the wire is 0 to {ModbusAddress.Highest}, not {Offset}. Manuals count from 1: holding register 40001 is holding 0."));
        else if (Offset + RawCodec.WordsOf(Type) - 1 > ModbusAddress.Highest)
            problems.Add(new(nameof(Offset), $"{Type} fills two registers; the second would lie beyond {ModbusAddress.Highest}."));
        if (address.IsBit && Type != RawType.Bool)
            problems.Add(new(nameof(Type), "Coils and discrete inputs are single bits: their type is bool."));
        if (Description.Length > LongestDescription)
            problems.Add(new(nameof(Description), $"The description has {Description.Length} characters; {LongestDescription} is the most."));
        foreach (var bound in before is null ? [] : model.Index.BindingsOf(before.Id))
        {
            var instance = model.Equipment[bound.EquipmentId];
            var property = model.Index.PropertiesOf(instance).First(p => p.Id == bound.PropertyId);
            if (BindingRules.Misfit(property, after) is { } misfit)
                problems.Add(new(nameof(Type), $"{model.Index.PathOf(instance.Id)} is bound to this tag: {misfit}"));
        }
        return problems.Count > 0
            ? EditOutcome.Refused(problems)
            : EditOutcome.Changed($"{(before is null ? "Declare" : "Change")} tag {Name} on {controller.Name}", new ModelChange(before, after));
    }
}
