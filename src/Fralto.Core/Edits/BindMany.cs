using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>Makes many bindings at once, in place of any tags the properties had; all of them or none. The field of a problem is the number
/// of its line, from 0.</summary>
/// <param name="Lines">What to bind.</param>
/// <param name="Share">True lets tags feed several properties; never where one of them is a command.</param>
public sealed record BindMany(ImmutableArray<BindingLine> Lines, bool Share = false) : Edit
{
    /// <summary>The most problems that are listed.</summary>
    public const int MostProblems = 100;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var (problems, changes, made) = (new List<Problem>(), new List<ModelChange>(), new Dictionary<long, List<PropertyBinding>>());
        var cells = new HashSet<(long, long)>(Lines.Select(l => (l.EquipmentId, l.PropertyId)));
        var anew = Lines.ToLookup(l => (l.EquipmentId, l.PropertyId));
        var first = "";
        for (var i = 0; i < Lines.Length && problems.Count < MostProblems; i++)
        {
            var line = Lines[i];
            var before = model.Bindings.GetValueOrDefault((line.EquipmentId, line.PropertyId));
            if (!model.Equipment.TryGetValue(line.EquipmentId, out var instance))
                Refuse("The equipment no longer exists; somebody has taken it out. Reload the page.", "");
            else if (model.Index.PropertiesOf(instance).FirstOrDefault(p => p.Id == line.PropertyId) is not { } property)
                Refuse("The property no longer exists; somebody has taken it out. Reload the page.", "");
            else if (!model.Tags.TryGetValue(line.TagId, out var tag))
                Refuse("The tag no longer exists; somebody has taken it out. Reload the page.", "");
            else if (!cells.Remove((line.EquipmentId, line.PropertyId)))
                Refuse($"{instance.Name} {property.Name} is bound twice here; leave one of the two lines.");
            else if (BindingRules.Misfit(model, property, tag, line.Slice) is { } misfit)
                Refuse(misfit);
            else if (Sharing(line, property, tag.Name) is { } shared)
                Refuse(shared);
            else
            {
                var binding = new PropertyBinding(line.EquipmentId, line.PropertyId, line.TagId, line.Slice, before?.Simulation);
                if (before is not null && before with { Checked = null } == binding)
                    continue;
                (made.TryGetValue(line.TagId, out var list) ? list : made[line.TagId] = []).Add(binding);
                changes.Add(new(before, binding));
                if (first.Length == 0)
                    first = $"Bind {instance.Name} {property.Name} to {tag.Name}{line.Slice}";
            }

            void Refuse(string message, string field = nameof(BindingLine.TagId)) =>
                problems.Add(new(Lines.Length == 1 ? field : i.ToString(System.Globalization.CultureInfo.InvariantCulture), message));
        }
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);
        if (changes.Count == 0)
            return Lines.IsEmpty
                ? EditOutcome.Refused("", "There is nothing to bind.")
                : EditOutcome.Refused(nameof(BindingLine.TagId), "These are bound so already.");
        return EditOutcome.Changed(
            changes.Count == 1
                ? first
                : $"Bind {Count(changes.Count, "property", "properties")} of "
                    + $"{Count(changes.Select(c => ((PropertyBinding)c.After!).EquipmentId).Distinct().Count(), "instance")}",
            changes
        );

        string? Sharing(BindingLine line, ResolvedProperty property, string tag)
        {
            var others = model
                .Index.BindingsOf(line.TagId)
                .Where(b => !Replaced(b))
                .Concat(made.GetValueOrDefault(line.TagId) ?? [])
                .Where(b => (b.EquipmentId, b.PropertyId) != (line.EquipmentId, line.PropertyId) && Slice.Overlap(b.Slice, line.Slice))
                .ToArray();
            if (others.Length == 0)
                return null;
            var (feeds, its) = ($"{tag}{others[0].Slice} already feeds {model.Index.PathOf(others[0].EquipmentId)}", KindOf(others[0]));
            if (property.Declaration.Kind == PropertyKind.Command || its == PropertyKind.Command)
                return $"{feeds}; a tag that takes commands feeds one property only. Unbind it there first.";
            return Share ? null : $"{feeds}; unbind it there first, or say that it feeds both.";
        }

        // What another line of this edit binds anew no longer holds its tag.
        bool Replaced(PropertyBinding binding) =>
            Lines.Length > 1
            && anew[(binding.EquipmentId, binding.PropertyId)].Any(l => l.TagId != binding.TagId || l.Slice != binding.Slice);

        PropertyKind KindOf(PropertyBinding binding) =>
            model
                .Index.PropertiesOf(model.Equipment[binding.EquipmentId].TemplateId!.Value)
                .First(p => p.Id == binding.PropertyId)
                .Declaration.Kind;
    }
}
