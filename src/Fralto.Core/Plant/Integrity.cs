using System.Collections.Immutable;
using Fralto.Core.Binding;
using Fralto.Core.Edits;

namespace Fralto.Core.Plant;

/// <summary>What no model may have, however it came about: dangling references, cycles, misfits and names that collide.</summary>
public static class Integrity
{
    /// <summary>Everything wrong with a model, in words; empty when it is whole.</summary>
    public static IEnumerable<Problem> Problems(PlantModel model)
    {
        // Resolving properties and paths presumes whole trees, so what is built on them is looked at only when the trees are whole.
        var structure = Templates(model).Concat(Equipment(model)).Concat(Tags(model)).ToArray();
        return (structure.Length > 0 ? structure : PartCycles(model).Concat(Bindings(model)).Concat(Collisions(model))).Select(message => new Problem("", message));
    }

    private static IEnumerable<string> Templates(PlantModel model)
    {
        foreach (var template in model.Templates.Values)
        {
            if (template.ParentId is { } parent && !model.Templates.ContainsKey(parent)) yield return $"Template {template.Name} inherits from one that no longer exists.";
            if (Climbs(template.Id, id => model.Templates.GetValueOrDefault(id)?.ParentId)) yield return $"Template {template.Name} would inherit from itself.";
            foreach (var part in template.Parts)
                if (!model.Templates.ContainsKey(part.TemplateId)) yield return $"The part {part.Name} of {template.Name} is of a template that no longer exists.";
            foreach (var patch in template.Patches.Values)
                if (patch.StateSetId is { } set && !model.StateSets.ContainsKey(set)) yield return $"A property of {template.Name} uses a state set that no longer exists.";
        }
    }

    private static IEnumerable<string> Equipment(PlantModel model)
    {
        var known = new Dictionary<long, ImmutableArray<EquipmentLevel>>();
        ImmutableArray<EquipmentLevel> LevelsOf(long id) => known.TryGetValue(id, out var found) ? found : known[id] =
            !model.Templates.TryGetValue(id, out var at) || Climbs(id, i => model.Templates.GetValueOrDefault(i)?.ParentId) ? []
            : !at.Levels.IsEmpty ? at.Levels : at.ParentId is { } above ? LevelsOf(above) : [];
        foreach (var node in model.Equipment.Values)
        {
            if (node.TemplateId is { } template && !model.Templates.ContainsKey(template)) yield return $"{node.Name} is an instance of a template that no longer exists.";
            if (Climbs(node.Id, id => model.Equipment.GetValueOrDefault(id)?.ParentId))
            {
                yield return $"{node.Name} would lie below itself.";
                continue;
            }
            if (node.ParentId is { } parent && !model.Equipment.ContainsKey(parent)) yield return $"{node.Name} lies below a place that no longer exists.";
            else if (node.TemplateId is { } its && LevelsOf(its) is { IsEmpty: false } levels && !levels.Contains(node.Level)) yield return $"{node.Name} is a {LevelRules.NameOf(node.Level)}; its template {model.Templates[its].Name} does not stand there.";
            else if (LevelRules.Misfit(node.ParentId is { } above ? model.Equipment[above].Level : null, node.Level) is { } misfit) yield return $"{node.Name}: {misfit}";
        }
    }

    /// <summary>Templates that would hold themselves through their parts.</summary>
    private static IEnumerable<string> PartCycles(PlantModel model)
    {
        var done = new Dictionary<long, bool>();
        bool Holds(long id)
        {
            if (done.TryGetValue(id, out var closed)) return !closed;
            done[id] = false;
            var cycle = model.Index.PartsOf(id).Any(p => Holds(p.TemplateId));
            done[id] = true;
            return cycle;
        }
        foreach (var template in model.Templates.Values.OrderBy(t => t.Id))
            if (!done.ContainsKey(template.Id) && Holds(template.Id)) yield return $"Template {template.Name} would hold itself through its parts.";
    }

    private static IEnumerable<string> Tags(PlantModel model) => model.Tags.Values
        .Where(t => !model.Controllers.ContainsKey(t.ControllerId)).Select(t => $"Tag {t.Name} belongs to a controller that no longer exists.");

    private static IEnumerable<string> Bindings(PlantModel model)
    {
        foreach (var binding in model.Bindings.Values)
        {
            if (!model.Equipment.TryGetValue(binding.EquipmentId, out var instance)) yield return "A binding belongs to equipment that no longer exists.";
            else if (!model.Tags.TryGetValue(binding.TagId, out var tag)) yield return $"{instance.Name} is bound to a tag that no longer exists.";
            else if (instance.TemplateId is not { } template || !model.Templates.ContainsKey(template)) yield return $"{instance.Name} is bound, but has no template.";
            else if (model.Index.PropertiesOf(template).FirstOrDefault(p => p.Id == binding.PropertyId) is not { } property) yield return $"{instance.Name} is bound by a property it no longer has.";
            else if (BindingRules.Misfit(property, tag) is { } misfit) yield return $"{instance.Name}: {misfit}";
        }
    }

    private static IEnumerable<string> Collisions(PlantModel model)
    {
        static IEnumerable<string> Twice<T>(IEnumerable<T> all, Func<T, (long, string)> key, Func<T, string> what) => all
            .GroupBy(item => (key(item).Item1, key(item).Item2.ToUpperInvariant())).Where(g => g.Skip(1).Any()).Select(g => what(g.First()));
        return Twice(model.Equipment.Values, e => (e.ParentId ?? 0, e.Code), e => $"The code {e.Code} would stand twice among siblings.")
            .Concat(Twice(model.Templates.Values, t => (0, t.Code), t => $"The template code {t.Code} would stand twice."))
            .Concat(Twice(model.StateSets.Values, s => (0, s.Code), s => $"The state set code {s.Code} would stand twice."))
            .Concat(Twice(model.Controllers.Values, c => (0, c.Name), c => $"The controller name {c.Name} would stand twice."))
            .Concat(Twice(model.Tags.Values, t => (t.ControllerId, t.Name), t => $"The tag name {t.Name} would stand twice in its controller."));
    }

    /// <summary>True when going up from a node comes back to it.</summary>
    private static bool Climbs(long id, Func<long, long?> above)
    {
        var steps = 0;
        for (var at = above(id); at is { } next; at = above(next))
            if (next == id || ++steps > 1000) return true;
        return false;
    }
}
