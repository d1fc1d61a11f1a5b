using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Core.Rules;

/// <summary>What holds between the tags of one controller, and between a tag and what is bound to it: the same for a form, an import and a
/// layout.</summary>
internal static class TagRules
{
    /// <summary>The device a tag was generated for; null for a tag of its own.</summary>
    public static Device? Generated(PlantModel model, Tag tag) => tag.DeviceId is { } id ? model.Devices.GetValueOrDefault(id) : null;

    /// <summary>What tells two tags of a controller apart besides their names: where and how they are read. Null where tags have no
    /// place.</summary>
    public static (string, RawType, int)? PlaceOf(Controller controller, Tag tag) =>
        tag.Address.PlaceIn(controller.Connection) is { } place ? (place, tag.Type, tag.Count) : null;

    /// <summary>What bindings would no longer fit a tag.</summary>
    public static IEnumerable<string> Misfits(PlantModel model, Tag after)
    {
        foreach (var bound in model.Index.BindingsOf(after.Id))
        {
            var instance = model.Equipment[bound.EquipmentId];
            var property = model.Index.PropertiesOf(instance).First(p => p.Id == bound.PropertyId);
            if (BindingRules.Misfit(model, property, after, bound.Slice) is { } misfit)
                yield return $"{model.Index.PathOf(instance.Id)} is bound to this tag: {misfit}";
        }
    }

    /// <summary>A name like the wanted one that is still free: the wanted one with the lowest number that makes it so.</summary>
    public static string FreeName(string wanted, Func<string, bool> isTaken)
    {
        if (!isTaken(wanted))
            return wanted;
        for (var n = 2; ; n++)
            if ($"{wanted}_{n}" is var name && !isTaken(name))
                return name;
    }
}
