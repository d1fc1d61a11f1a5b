using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Hierarchy;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Templates;

namespace Fralto.Core.Rules;

/// <summary>Makes a whole model of one with loose ends: what refers to something that is not there is set aside, and what refers to that in
/// turn.</summary>
public static class Salvage
{
    /// <summary>The largest whole part of a model.</summary>
    /// <returns>The model, and what was left out of it in the order it was found; a model that is whole is given back as it is.</returns>
    public static (PlantModel Model, IReadOnlyList<SetAside> Aside) Of(PlantModel model)
    {
        var aside = new List<SetAside>();
        model = model with
        {
            Scales = Mended(model.Scales, s =>
                UnitGone(model, "scale", s.Id, s.Name, s.Scale.Unit, aside) ? s with { Scale = s.Scale with { Unit = null } } : s
            ),
            Layouts = Mended(model.Layouts, l => Mended(model, l, aside)),
        };
        // What goes may leave another at a loose end: parents are looked at until none is missing.
        for (var before = 0; before != model.Templates.Count; )
        {
            before = model.Templates.Count;
            model = model with { Templates = Without(model.Templates, t => Fault(model, t), "template", t => t.Name, aside) };
        }
        model = model with
        {
            NamingConventions = Without(
                model.NamingConventions,
                p => p.TemplateId is { } template && !model.Templates.ContainsKey(template) ? "Its template is not there." : null,
                "naming-convention",
                p => p.Text,
                aside
            ),
        };
        model = model with { Templates = Mended(model.Templates, t => Mended(model, t, aside)) };
        model = model with { Templates = Mended(model.Templates, t => WithoutLost(model, t, aside)) };
        for (var before = 0; before != model.Equipment.Count; )
        {
            before = model.Equipment.Count;
            model = model with { Equipment = Without(model.Equipment, e => Fault(model, e), "equipment", e => e.Name, aside) };
        }
        model = model with
        {
            Equipment = Mended(model.Equipment, e =>
                Mended(model, e.Name, e.Id, e.Patches, aside) is var patches && ReferenceEquals(patches, e.Patches)
                    ? e
                    : e with
                    {
                        Patches = patches,
                    }
            ),
        };
        model = model with { Equipment = Mended(model.Equipment, e => WithoutLost(model, e, aside)) };
        model = model with
        {
            Devices = Without(
                model.Devices,
                d =>
                    !model.Controllers.ContainsKey(d.ControllerId) ? "Its controller is not there."
                    : model.Layouts.ContainsKey(d.LayoutId) ? null
                    : "Its layout is not there.",
                "device",
                d => d.Name,
                aside
            ),
            Tags = Without(
                model.Tags,
                t => model.Controllers.ContainsKey(t.ControllerId) ? null : "Its controller is not there.",
                "tag",
                t => t.Name,
                aside
            ),
        };
        model = model with
        {
            Tags = Mended(model.Tags, t => UnitGone(model, "tag", t.Id, t.Name, t.Unit, aside) ? t with { Unit = null } : t),
        };
        model = model with
        {
            Tags = Mended(model.Tags, t =>
                t.DeviceId is { } device && !model.Devices.ContainsKey(device) ? t with { DeviceId = null, PointId = null } : t
            ),
        };
        return (model with { Bindings = Bindings(model, aside) }, aside);
    }

    private static string? Fault(PlantModel model, Template template) =>
        template.ParentId is not { } parent ? null
        : !model.Templates.ContainsKey(parent) ? "The template it inherits from is not there."
        : Climbs(template.Id, id => model.Templates.GetValueOrDefault(id)?.ParentId) ? "It inherits from itself."
        : null;

    private static string? Fault(PlantModel model, Equipment node) =>
        node.TemplateId is { } template && !model.Templates.ContainsKey(template) ? "Its template is not there."
        : node.ParentId is not { } parent ? null
        : !model.Equipment.ContainsKey(parent) ? "The place it lies in is not there."
        : Climbs(node.Id, id => model.Equipment.GetValueOrDefault(id)?.ParentId) ? "It lies below itself."
        : null;

    private static Template Mended(PlantModel model, Template template, List<SetAside> aside)
    {
        foreach (var part in template.Parts.Where(p => !model.Templates.ContainsKey(p.TemplateId)))
            aside.Add(new("part", part.Id, $"{template.Name} {part.Name}", "Its template is not there."));
        var parts = template.Parts.RemoveAll(p => !model.Templates.ContainsKey(p.TemplateId));
        var patches = Mended(model, template.Name, template.Id, template.Patches, aside);
        return parts.Length == template.Parts.Length && ReferenceEquals(patches, template.Patches)
            ? template
            : template with
            {
                Parts = parts,
                Patches = patches,
            };
    }

    /// <summary>What a layer says, without what it says of units, scales and state lists that are not there.</summary>
    private static ImmutableDictionary<long, PropertyPatch> Mended(
        PlantModel model,
        string name,
        long layer,
        ImmutableDictionary<long, PropertyPatch> patches,
        List<SetAside> aside
    )
    {
        foreach (var (property, said) in patches)
        {
            var patch = said;
            if (patch.Unit is { } unit && model.Units.Find(unit) is null)
                patch = Loose(patch with { Unit = null }, $"There is no unit {unit}.");
            if (patch.Scale?.Unit is { } yields && model.Units.Find(yields) is null)
                patch = Loose(patch with { Scale = patch.Scale with { Unit = null } }, $"There is no unit {yields}.");
            if (patch.ScaleId is { } scale && !model.Scales.ContainsKey(scale))
                patch = Loose(patch with { ScaleId = null }, "The scale it names is not there.");
            if (patch.StateListId is { } set && !model.StateLists.ContainsKey(set))
                patch = Loose(patch with { StateListId = null }, "The state list it names is not there.");
            if (!ReferenceEquals(patch, said))
                patches = patches.SetItem(property, patch);

            PropertyPatch Loose(PropertyPatch mended, string why)
            {
                aside.Add(new("what a layer says of a property", layer, name, why));
                return mended;
            }
        }
        return patches;
    }

    /// <summary>A template without what it says of properties it does not have.</summary>
    private static Template WithoutLost(PlantModel model, Template template, List<SetAside> aside)
    {
        var own = model.Index.PropertiesOf(template.Id).Select(p => p.Id).ToHashSet();
        var lost = template
            .Patches.Keys.Concat(template.Rules.Select(r => r.PropertyId))
            .Where(id => !own.Contains(id))
            .Distinct()
            .ToArray();
        if (lost.Length == 0)
            return template;
        aside.Add(new("what a layer says of a property", template.Id, template.Name, "Its property is not there."));
        return template with
        {
            Patches = template.Patches.RemoveRange(lost),
            Rules = template.Rules.RemoveAll(r => lost.Contains(r.PropertyId)),
        };
    }

    /// <summary>A node without what it says of properties it does not have.</summary>
    private static Equipment WithoutLost(PlantModel model, Equipment node, List<SetAside> aside)
    {
        if (node.Patches.IsEmpty)
            return node;
        var lost = node.Patches.Keys.Except(node.TemplateId is { } its ? model.Index.PropertiesOf(its).Select(p => p.Id) : []).ToArray();
        if (lost.Length == 0)
            return node;
        aside.Add(new("what a layer says of a property", node.Id, node.Name, "Its property is not there."));
        return node with { Patches = node.Patches.RemoveRange(lost) };
    }

    private static DeviceLayout Mended(PlantModel model, DeviceLayout layout, List<SetAside> aside)
    {
        var points = layout.Points;
        for (var i = 0; i < points.Length; i++)
            if (UnitGone(model, "point of a layout", points[i].Id, $"{layout.Name} {points[i].Name}", points[i].Unit, aside))
                points = points.SetItem(i, points[i] with { Unit = null });
        return points == layout.Points ? layout : layout with { Points = points };
    }

    /// <summary>True for a unit that is not there, which is then set aside by itself: what has it goes on without.</summary>
    private static bool UnitGone(PlantModel model, string kind, long id, string name, string? unit, List<SetAside> aside)
    {
        if (unit is null || model.Units.Find(unit) is not null)
            return false;
        aside.Add(new($"unit of a {kind}", id, name, $"There is no unit {unit}."));
        return true;
    }

    private static ImmutableDictionary<(long, long), PropertyBinding> Bindings(PlantModel model, List<SetAside> aside)
    {
        var bindings = model.Bindings;
        foreach (var (key, binding) in model.Bindings)
        {
            var node = model.Equipment.GetValueOrDefault(binding.EquipmentId);
            var why =
                node is null ? "Its instance is not there."
                : !model.Tags.ContainsKey(binding.TagId) ? "Its tag is not there."
                : node.TemplateId is not { } template || model.Index.PropertiesOf(template).All(p => p.Id != binding.PropertyId)
                    ? "Its property is not there."
                : null;
            if (why is null)
                continue;
            bindings = bindings.Remove(key);
            var property = node?.TemplateId is { } its
                ? model.Index.PropertiesOf(its).FirstOrDefault(p => p.Id == binding.PropertyId)?.Name
                : null;
            aside.Add(
                new(
                    "binding",
                    binding.EquipmentId,
                    $"{node?.Name ?? $"instance {binding.EquipmentId}"}{(property is null ? "" : $" {property}")}",
                    why
                )
            );
        }
        return bindings;
    }

    private static ImmutableDictionary<long, T> Without<T>(
        ImmutableDictionary<long, T> entries,
        Func<T, string?> fault,
        string kind,
        Func<T, string> nameOf,
        List<SetAside> aside
    )
        where T : Entity
    {
        foreach (var entry in entries.Values)
        {
            if (fault(entry) is not { } why)
                continue;
            entries = entries.Remove(entry.Id);
            aside.Add(new(kind, entry.Id, nameOf(entry), why));
        }
        return entries;
    }

    private static ImmutableDictionary<long, T> Mended<T>(ImmutableDictionary<long, T> entries, Func<T, T> mend)
        where T : Entity
    {
        foreach (var entry in entries.Values)
            if (mend(entry) is var mended && !ReferenceEquals(mended, entry))
                entries = entries.SetItem(entry.Id, mended);
        return entries;
    }

    /// <summary>True when what lies above leads back to where it began; what only hangs on such a circle is not on it.</summary>
    private static bool Climbs(long from, Func<long, long?> above)
    {
        var seen = new HashSet<long>();
        for (var at = above(from); at is { } id && seen.Add(id); at = above(id))
            if (id == from)
                return true;
        return false;
    }
}
