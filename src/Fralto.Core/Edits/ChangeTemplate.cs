using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Makes nodes instances of another template. What is bound and set at properties of the same code stays, as far as it fits
/// there.</summary>
/// <param name="Ids">The nodes.</param>
/// <param name="TemplateId">The template; null makes them mere places.</param>
public sealed record ChangeTemplate(ImmutableArray<long> Ids, long? TemplateId) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var nodes = Ids.Distinct().Select(id => model.Equipment.GetValueOrDefault(id)).ToArray();
        if (nodes.Length == 0)
            return EditOutcome.Refused("", "Choose the equipment first.");
        if (nodes.Any(n => n is null))
            return Gone("Some of the equipment");
        if (TemplateId is { } id && !model.Templates.ContainsKey(id))
            return Gone("The template");
        var changes = new List<ModelChange>();
        var problems = new List<Problem>();
        var (kept, lost) = (0, 0);
        foreach (var node in nodes.Where(n => n!.TemplateId != TemplateId).Select(n => n!))
        {
            if (node.ParentId is { } above && node.PartId is not null)
                problems.Add(
                    new("TemplateId", $"{node.Name} is a part of {model.Equipment[above].Name}; change what that part is in its template.")
                );
            if (
                Instantiation.Misfit(model, node.ParentId is { } parent ? model.Equipment[parent].Level : null, node.Level, TemplateId) is
                { } misfit
            )
                problems.Add(new("TemplateId", $"{node.Name}: {misfit}"));
            var (changed, stay, go) = Of(model, node);
            changes.AddRange(changed);
            (kept, lost) = (kept + stay, lost + go);
        }
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);
        if (changes.Count == 0)
            return EditOutcome.Refused("TemplateId", "All of these are instances of it already.");
        var after = model.Apply(changes);
        if (Integrity.NewProblems(model, after, changes) is { Count: > 0 } unsound)
            return EditOutcome.Refused(unsound);
        var name = TemplateId is { } its ? $"instances of {model.Templates[its].Name}" : "places";
        return EditOutcome.Changed(
            $"Make {(nodes is [{ } one] ? one.Name : Count(nodes.Length, "piece", "pieces"))} {name}: {Count(kept, "binding")} "
                + $"{(kept == 1 ? "stays" : "stay")}, {lost} {(lost == 1 ? "goes" : "go")}",
            changes
        );
    }

    private (IEnumerable<ModelChange> Changes, int Kept, int Lost) Of(PlantModel model, Equipment node)
    {
        var before = model.Index.PropertiesOf(node).ToDictionary(p => p.Id);
        var after = (TemplateId is { } id ? model.Index.PropertiesOf(id) : []).ToDictionary(p => p.Code, StringComparer.OrdinalIgnoreCase);
        ResolvedProperty? Same(long property) =>
            before.GetValueOrDefault(property) is { } was
            && after.GetValueOrDefault(was.Code) is { } now
            && now.Declaration.Type == was.Declaration.Type
                ? now
                : null;
        var patches = node
            .Patches.Select(p => (Property: Same(p.Key), p.Value))
            .Where(p => p.Property is not null && Fits(model, p.Property, p.Value))
            .ToImmutableDictionary(p => p.Property!.Id, p => p.Value);
        var made = node with
        {
            TemplateId = TemplateId,
            Patches = patches,
            Refused =
            [
                .. node.Refused.Where(r => Same(r.PropertyId) is not null).Select(r => r with { PropertyId = Same(r.PropertyId)!.Id }),
            ],
        };
        var changes = new List<ModelChange>();
        var (kept, lost) = (0, 0);
        foreach (var binding in model.Index.BoundOf(node))
        {
            var now = Same(binding.PropertyId);
            var tag = model.Tags[binding.TagId];
            var facts = now is null ? null : now with { Facts = now.Facts.With(patches.GetValueOrDefault(now.Id, PropertyPatch.Empty)) };
            var stays =
                facts is { TakesTag: true }
                && BindingRules.Misfit(model, facts, tag, binding.Slice) is null
                && (facts.Declaration.Kind == PropertyKind.Command)
                    == (before[binding.PropertyId].Declaration.Kind == PropertyKind.Command);
            if (stays)
                kept++;
            else
                lost++;
            if (stays && now!.Id == binding.PropertyId)
                continue;
            changes.Add(Removed(binding));
            // It feeds something that is called the same, but somebody has to look again.
            if (stays)
                changes.Add(Added(binding with { PropertyId = now!.Id, Checked = null }));
        }
        changes.Add(new(node, made));
        // What was a part of the old template stands there by hand now.
        changes.AddRange(
            model
                .Index.ChildrenOf(node.Id)
                .Where(c => c.PartId is { } part && (TemplateId is not { } t || model.Index.PartsOf(t).All(p => p.Id != part)))
                .Select(c => new ModelChange(c, c with { PartId = null }))
        );
        return (changes, kept, lost);
    }

    private static bool Fits(PlantModel model, ResolvedProperty property, PropertyPatch patch) =>
        !FactRules.Problems(model, property.Declaration, property.Facts.With(patch)).Any();
}
