using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>Declares a tag, or changes one when an id is given; bindings stay, whatever it is called.</summary>
public sealed record SaveTag(
    long? Id,
    long ControllerId,
    string Name,
    TagAddress Address,
    RawType Type,
    WordOrder WordOrder,
    string Description,
    int Elements = 1,
    string? Unit = null,
    string? UpdateClass = null,
    Span? Range = null
) : Edit
{
    /// <summary>The same for a place in a Modbus device.</summary>
    public SaveTag(
        long? id,
        long controllerId,
        string name,
        RegisterArea area,
        int offset,
        RawType type,
        WordOrder wordOrder,
        string description,
        int elements = 1,
        string? unit = null
    )
        : this(id, controllerId, name, new ModbusAddress(area, offset), type, wordOrder, description, elements, unit) { }

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Controllers.TryGetValue(ControllerId, out var controller))
            return Gone("The controller");
        Tag? before = null;
        if (Id is { } id && !model.Tags.TryGetValue(id, out before))
            return Gone("The tag");
        if (before is not null && TagRules.Generated(model, before) is { } device)
            return EditOutcome.Refused(
                "",
                $"{before.Name} belongs to the device {device.Name}; change its layout {model.Layouts[device.LayoutId].Name}, and the "
                    + $"tags of all its devices follow."
            );
        var hasOrder = Address.HasWordOrder && !(Type == RawType.Bool && Elements == 1);
        var after = new Tag(
            Id ?? model.NextId,
            ControllerId,
            Name,
            Address,
            Type,
            hasOrder ? WordOrder : WordOrder.HighFirst,
            Description,
            Elements,
            Unit
        )
        {
            UpdateClass = UpdateClass,
            Range = Range,
        };
        var problems = EntityRules.Problems(model, controller, after).ToList();
        var others = model.Index.TagsOf(ControllerId).Where(t => t.Id != Id).ToArray();
        bool IsTaken(string name) => others.Any(t => string.Equals(t.Name, name, StringComparison.OrdinalIgnoreCase));
        if (IsTaken(Name))
            problems.Add(
                new(nameof(Name), $"{controller.Name} already has a tag named {Name}; {TagRules.FreeName(Name, IsTaken)} is free.")
            );
        if (
            TagRules.PlaceOf(controller, after) is { } place
            && others.FirstOrDefault(t => TagRules.PlaceOf(controller, t) == place) is { } twin
        )
            problems.Add(new(nameof(Address), $"{twin.Name} is {twin.TypeText} at {twin.Address} already; bind that one."));
        problems.AddRange(before is null ? [] : TagRules.Misfits(model, after).Select(m => new Problem(nameof(Type), m)));
        return problems.Count > 0
            ? EditOutcome.Refused(problems)
            : EditOutcome.Changed(
                $"{(before is null ? "Declare" : "Change")} tag {Name} on {controller.Name}",
                new ModelChange(before, after)
            );
    }
}
