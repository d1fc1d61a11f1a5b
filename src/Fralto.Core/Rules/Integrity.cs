using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Rules;

/// <summary>What no model may have, however it came about: dangling references, cycles, misfits and names that collide.</summary>
public static class Integrity
{
    /// <summary>Everything wrong with a model, in words; empty when it is whole.</summary>
    public static IEnumerable<Problem> Problems(PlantModel model) => Problems(model, Scope.All(model));

    /// <summary>What changes to a whole model have made wrong: only what they touch is looked at, and what hangs on it.</summary>
    /// <param name="model">The model after the changes.</param>
    /// <param name="changes">The changes.</param>
    public static IEnumerable<Problem> Problems(PlantModel model, IReadOnlyCollection<ModelChange> changes) =>
        Problems(model, Scope.Of(model, changes));

    /// <summary>What changes would make wrong that was not wrong before.</summary>
    /// <param name="before">The model before the changes.</param>
    /// <param name="after">The model after them.</param>
    /// <param name="changes">The changes.</param>
    public static IReadOnlyList<Problem> NewProblems(PlantModel before, PlantModel after, IReadOnlyCollection<ModelChange> changes)
    {
        var problems = Problems(after, changes).ToArray();
        return problems.Length == 0 ? problems : [.. problems.Except(Problems(before))];
    }

    private static IEnumerable<Problem> Problems(PlantModel model, Scope scope)
    {
        // Resolving properties and paths presumes whole trees, so what is built on them is looked at only when the trees are whole.
        var structure = Dangling(model, scope.Entities(model))
            .Concat(Templates(model, scope.Templates))
            .Concat(Equipment(model, scope.Nodes))
            .Concat(Tags(model, scope.Tags))
            .Concat(Twice(model))
            .ToArray();
        if (structure.Length > 0)
            return structure.Select(message => new Problem("", message));
        var bindings = scope.Bindings().ToArray();
        return Dangling(model, bindings)
            .Concat(PartCycles(model, scope.Templates))
            .Concat(LostProperties(model, scope.Templates, scope.Nodes))
            .Concat(Bindings(model, bindings))
            .Concat(DeviceTags(model, scope.Devices))
            .Concat(Collisions(model, scope))
            .Select(message => new Problem("", message));
    }

    /// <summary>The part of a model that is looked at.</summary>
    /// <param name="Templates">The templates: all of them when one is touched, since they hang together, else none.</param>
    /// <param name="Nodes">The nodes themselves.</param>
    /// <param name="Tags">The tags.</param>
    /// <param name="Devices">The devices whose tags have to be those of their layouts.</param>
    /// <param name="Bindings">The bindings; asked for when the trees are known to be whole.</param>
    /// <param name="Siblings">Nodes among which codes could collide.</param>
    /// <param name="Named">Tags among which names could collide.</param>
    private sealed record Scope(
        IEnumerable<Template> Templates,
        IReadOnlyCollection<Equipment> Nodes,
        IReadOnlyCollection<Tag> Tags,
        IEnumerable<Device> Devices,
        Func<IEnumerable<PropertyBinding>> Bindings,
        IEnumerable<Equipment> Siblings,
        IEnumerable<Tag> Named
    )
    {
        /// <summary>What names others and is looked at. Kinds of which a plant has few are looked at whole.</summary>
        public IEnumerable<object> Entities(PlantModel model) =>
            EntityKinds.All.SelectMany(kind =>
                kind == EntityKinds.Equipment ? Nodes
                : kind == EntityKinds.Tag ? Tags
                : kind == EntityKinds.Binding ? []
                : kind.All(model)
            );

        public static Scope All(PlantModel model) =>
            new(
                model.Templates.Values,
                [.. model.Equipment.Values],
                [.. model.Tags.Values],
                model.Devices.Values,
                () => model.Bindings.Values,
                model.Equipment.Values,
                model.Tags.Values
            );

        public static Scope Of(PlantModel model, IReadOnlyCollection<ModelChange> changes)
        {
            var touched = changes.Select(c => c.After ?? c.Before!).ToArray();
            var ids = touched.OfType<Equipment>().Select(e => e.Id).ToHashSet();
            var families = touched.OfType<Template>().SelectMany(t => model.Index.FamilyOf(t.Id).Select(f => f.Id).Append(t.Id)).Distinct();
            var sets = touched.Any(t => t is StateList or LibraryScale or OwnUnit);
            // A node is touched by what becomes of it, of the node above it and of its template.
            foreach (var id in ids.ToArray())
                ids.UnionWith(model.Index.ChildIdsOf(id));
            foreach (var id in families)
                ids.UnionWith(model.Index.InstanceIdsOf(id));
            var nodes = sets
                ? [.. model.Equipment.Values]
                : ids.Select(id => model.Equipment.GetValueOrDefault(id)).OfType<Equipment>().ToArray();
            var gone = touched.OfType<Equipment>().Where(e => !model.Equipment.ContainsKey(e.Id)).ToArray();
            var controllers = touched
                .OfType<Controller>()
                .Select(c => c.Id)
                .Concat(touched.OfType<Tag>().Select(t => t.ControllerId))
                .ToHashSet();
            var tags = touched.Any(t => t is OwnUnit) ? [.. model.Tags.Values] : controllers.SelectMany(model.Index.TagsOf).ToArray();
            var layouts = touched.OfType<DeviceLayout>().Select(l => l.Id).ToHashSet();
            var devices = touched
                .OfType<Device>()
                .Select(d => d.Id)
                .Concat(touched.OfType<Tag>().Select(t => t.DeviceId).OfType<long>())
                .ToHashSet();
            var parents = touched.OfType<Equipment>().Select(e => e.ParentId ?? 0).ToHashSet();
            return new(
                touched.Any(t => t is Template) ? model.Templates.Values : [],
                nodes,
                tags,
                model.Devices.Values.Where(d => devices.Contains(d.Id) || layouts.Contains(d.LayoutId)),
                () =>
                    nodes
                        .SelectMany(model.Index.BoundOf)
                        .Concat(touched.OfType<Tag>().SelectMany(t => model.Index.BindingsOf(t.Id)))
                        .Concat(touched.OfType<PropertyBinding>().Where(b => model.Bindings.ContainsKey((b.EquipmentId, b.PropertyId))))
                        // What shares a tag with a touched binding may be a command, which must not.
                        .Concat(touched.OfType<PropertyBinding>().Select(b => b.TagId).Distinct().SelectMany(model.Index.BindingsOf))
                        .Concat(
                            nodes
                                .Where(n => model.Index.BoundCountOf(n.Id) != model.Index.BoundOf(n).Count())
                                .Concat(gone.Where(e => model.Index.BoundCountOf(e.Id) > 0))
                                .SelectMany(e => model.Bindings.Values.Where(b => b.EquipmentId == e.Id))
                        ),
                parents.SelectMany(id => model.Index.ChildIdsOf(id)).Select(id => model.Equipment[id]),
                tags
            );
        }
    }

    /// <summary>What there is one of at most: an edit that is done again may bring back one that has been made anew since.</summary>
    private static IEnumerable<string> Twice(PlantModel model)
    {
        if (model.Calendars.Count > 1)
            yield return "There is another calendar by now.";
        if (model.AlarmSetups.Count > 1)
            yield return "What alarms share has been said anew by now.";
    }

    private static IEnumerable<string> Dangling(PlantModel model, IEnumerable<object> entities) =>
        References.Of(model, entities).Where(r => r.IsDangling(model)).Select(r => r.Dangling);

    private static IEnumerable<string> Templates(PlantModel model, IEnumerable<Template> templates) =>
        templates
            .Where(t => Climbs(t.Id, id => model.Templates.GetValueOrDefault(id)?.ParentId))
            .Select(t => $"Template {t.Name} would inherit from itself.");

    private static IEnumerable<string> Equipment(PlantModel model, IEnumerable<Equipment> nodes)
    {
        var known = new Dictionary<long, ImmutableArray<EquipmentLevel>>();
        ImmutableArray<EquipmentLevel> LevelsOf(long id) =>
            known.TryGetValue(id, out var found)
                ? found
                : known[id] =
                    !model.Templates.TryGetValue(id, out var at) || Climbs(id, i => model.Templates.GetValueOrDefault(i)?.ParentId) ? []
                    : !at.Levels.IsEmpty ? at.Levels
                    : at.ParentId is { } above ? LevelsOf(above)
                    : [];
        foreach (var node in nodes)
        {
            if (Climbs(node.Id, id => model.Equipment.GetValueOrDefault(id)?.ParentId))
            {
                yield return $"{node.Name} would lie below itself.";
                continue;
            }
            if (node.ParentId is { } parent && !model.Equipment.ContainsKey(parent))
                continue;
            if (node.TemplateId is { } its && LevelsOf(its) is { IsEmpty: false } levels && !levels.Contains(node.Level))
                yield return $"{node.Name} is a {LevelRules.NameOf(node.Level)}; its template {model.Templates[its].Name} does not "
                    + $"stand there.";
            else if (LevelRules.Misfit(node.ParentId is { } above ? model.Equipment[above].Level : null, node.Level) is { } misfit)
                yield return $"{node.Name}: {misfit}";
        }
    }

    /// <summary>Layers that speak of a property they do not have.</summary>
    private static IEnumerable<string> LostProperties(PlantModel model, IEnumerable<Template> templates, IEnumerable<Equipment> nodes)
    {
        foreach (var template in templates)
            if (
                template
                    .Patches.Keys.Concat(template.Rules.Select(r => r.PropertyId))
                    .Except(model.Index.PropertiesOf(template.Id).Select(p => p.Id))
                    .Any()
            )
                yield return $"Template {template.Name} says something of a property it no longer has.";
        foreach (var node in nodes)
            if (
                !node.Patches.IsEmpty
                && node.Patches.Keys.Except(node.TemplateId is { } its ? model.Index.PropertiesOf(its).Select(p => p.Id) : []).Any()
            )
                yield return $"{node.Name} says something of a property it no longer has.";
    }

    /// <summary>Templates that would hold themselves through their parts.</summary>
    private static IEnumerable<string> PartCycles(PlantModel model, IEnumerable<Template> templates)
    {
        var done = new Dictionary<long, bool>();
        bool Holds(long id)
        {
            if (done.TryGetValue(id, out var closed))
                return !closed;
            done[id] = false;
            var cycle = model.Index.PartsOf(id).Any(p => Holds(p.TemplateId));
            done[id] = true;
            return cycle;
        }
        foreach (var template in templates.OrderBy(t => t.Id))
            if (!done.ContainsKey(template.Id) && Holds(template.Id))
                yield return $"Template {template.Name} would hold itself through its parts.";
    }

    private static IEnumerable<string> Tags(PlantModel model, IEnumerable<Tag> tags)
    {
        foreach (var tag in tags)
        {
            if (!model.Controllers.TryGetValue(tag.ControllerId, out var controller))
                continue;
            if (tag.Address.Protocol != controller.Protocol)
                yield return $"Tag {tag.Name} has an address of {tag.Address.Protocol.Words()}, and {controller.Name} would speak "
                    + $"{controller.Protocol.Words()}.";
            if (
                tag.UpdateClass is not null
                && controller.UpdateClasses.All(c => !string.Equals(c.Name, tag.UpdateClass, StringComparison.OrdinalIgnoreCase))
            )
                yield return $"Tag {tag.Name} is read in an update class that {controller.Name} no longer has.";
        }
    }

    /// <summary>Devices whose tags are not those of their layout, place for place.</summary>
    private static IEnumerable<string> DeviceTags(PlantModel model, IEnumerable<Device> devices)
    {
        foreach (var behind in devices.GroupBy(d => d.ControllerId))
        {
            var tags = model.Index.TagsOf(behind.Key).Where(t => t.DeviceId is not null).ToLookup(t => t.DeviceId!.Value);
            foreach (var device in behind)
            {
                var layout = model.Layouts[device.LayoutId];
                var own = tags[device.Id].ToDictionary(t => t.PointId!.Value);
                if (
                    own.Count != layout.Points.Length
                    || layout.Points.Any(p => !own.TryGetValue(p.Id, out var tag) || tag != device.TagOf(layout, p, tag.Id))
                )
                    yield return $"The tags of device {device.Name} would not be those of layout {layout.Name}.";
            }
        }
    }

    private static IEnumerable<string> Bindings(PlantModel model, IEnumerable<PropertyBinding> bindings)
    {
        foreach (var binding in bindings)
        {
            if (!model.Equipment.TryGetValue(binding.EquipmentId, out var instance) || !model.Tags.TryGetValue(binding.TagId, out var tag))
                continue;
            if (instance.TemplateId is not { } template || !model.Templates.ContainsKey(template))
                yield return $"{instance.Name} is bound, but has no template.";
            else if (model.Index.PropertiesOf(template).FirstOrDefault(p => p.Id == binding.PropertyId) is not { } property)
                yield return $"{instance.Name} is bound by a property it no longer has.";
            else if (
                BindingRules.Misfit(
                    model,
                    property with
                    {
                        Facts = property.Facts.With(instance.Patches.GetValueOrDefault(property.Id, PropertyPatch.Empty)),
                    },
                    tag,
                    binding.Slice
                ) is
                { } misfit
            )
                yield return $"{instance.Name}: {misfit}";
            else if (
                property.Declaration.Kind == PropertyKind.Command
                && model
                    .Index.BindingsOf(tag.Id)
                    .Any(b =>
                        (b.EquipmentId, b.PropertyId) != (binding.EquipmentId, binding.PropertyId) && Slice.Overlap(b.Slice, binding.Slice)
                    )
            )
                yield return $"{instance.Name} {property.Name} is a command; {tag.Name}{binding.Slice} cannot feed anything else "
                    + $"beside it.";
        }
    }

    private static IEnumerable<string> Collisions(PlantModel model, Scope scope)
    {
        static IEnumerable<string> Twice<T>(IEnumerable<T> all, Func<T, (long, string)> key, Func<T, string> what) =>
            all.GroupBy(item => (key(item).Item1, key(item).Item2.ToUpperInvariant()))
                .Where(g => g.Skip(1).Any())
                .Select(g => what(g.First()));
        return Twice(scope.Siblings, e => (e.ParentId ?? 0, e.Code), e => $"The code {e.Code} would stand twice among siblings.")
            .Concat(Twice(model.Templates.Values, t => (0, t.Code), t => $"The template code {t.Code} would stand twice."))
            .Concat(Twice(model.StateLists.Values, s => (0, s.Code), s => $"The state list code {s.Code} would stand twice."))
            .Concat(Twice(model.Scales.Values, s => (0, s.Code), s => $"The scale code {s.Code} would stand twice."))
            .Concat(Twice(model.OwnUnits.Values, u => (0, u.Code), u => $"The unit code {u.Code} would stand twice."))
            .Concat(Twice(model.Layouts.Values, l => (0, l.Code), l => $"The layout code {l.Code} would stand twice."))
            .Concat(
                Twice(
                    model.Devices.Values,
                    d => (d.ControllerId, d.Name),
                    d => $"The device name {d.Name} would stand twice in its controller."
                )
            )
            .Concat(Twice(model.Controllers.Values, c => (0, c.Name), c => $"The controller name {c.Name} would stand twice."))
            .Concat(Twice(scope.Named, t => (t.ControllerId, t.Name), t => $"The tag name {t.Name} would stand twice in its controller."));
    }

    /// <summary>True when going up from a node comes back to it.</summary>
    private static bool Climbs(long id, Func<long, long?> above)
    {
        var steps = 0;
        for (var at = above(id); at is { } next; at = above(next))
            if (next == id || ++steps > 1000)
                return true;
        return false;
    }
}
