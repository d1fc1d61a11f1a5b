using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fralto.Core.Binding;
using Fralto.Core.Controllers;
using Fralto.Core.Templates;

namespace Fralto.Core.Plant;

/// <summary>Look-ups over one model: children, instances, paths, resolved properties.</summary>
/// <remarks>Built once for a model and shared by all readers; each template is resolved once, instances lay their few patches over it.</remarks>
public sealed class ModelIndex
{
    private readonly PlantModel _model;
    private readonly Lazy<ILookup<long, Equipment>> _children;
    private readonly Lazy<ILookup<long, Template>> _descendants;
    private readonly Lazy<ILookup<long, Equipment>> _instances;
    private readonly Lazy<ILookup<long, Tag>> _tags;
    private readonly Lazy<ILookup<long, PropertyBinding>> _bindingsOfTag;
    private readonly Lazy<ImmutableArray<Equipment>> _inOrder;
    private readonly ConcurrentDictionary<long, ImmutableArray<ResolvedProperty>> _resolved = new();
    private readonly ConcurrentDictionary<long, string> _paths = new();

    internal ModelIndex(PlantModel model)
    {
        _model = model;
        _children = new(() => model.Equipment.Values.OrderBy(e => e.Order).ThenBy(e => e.Id).ToLookup(e => e.ParentId ?? 0));
        _descendants = new(() => model.Templates.Values.OrderBy(t => t.Name, StringComparer.Ordinal).ToLookup(t => t.ParentId ?? 0));
        _instances = new(() => EquipmentInOrder.Where(e => e.TemplateId is not null).ToLookup(e => e.TemplateId!.Value));
        _tags = new(() => model.Tags.Values.OrderBy(t => t.Name, StringComparer.OrdinalIgnoreCase).ToLookup(t => t.ControllerId));
        _bindingsOfTag = new(() => model.Bindings.Values.ToLookup(b => b.TagId));
        _inOrder = new(() => [.. Below(null)]);
    }

    /// <summary>All equipment, each parent before its children, siblings in their order.</summary>
    public ImmutableArray<Equipment> EquipmentInOrder => _inOrder.Value;

    /// <summary>The children of a node in their order; of null, the enterprises.</summary>
    public IEnumerable<Equipment> ChildrenOf(long? equipmentId) => _children.Value[equipmentId ?? 0];

    /// <summary>The templates that inherit directly from one; of null, the roots.</summary>
    public IEnumerable<Template> TemplatesBelow(long? templateId) => _descendants.Value[templateId ?? 0];

    /// <summary>The template's instances, not those of its descendants, in plant order.</summary>
    public IEnumerable<Equipment> InstancesOf(long templateId) => _instances.Value[templateId];

    /// <summary>The tags of a controller by name.</summary>
    public IEnumerable<Tag> TagsOf(long controllerId) => _tags.Value[controllerId];

    /// <summary>Where a tag is bound.</summary>
    public IEnumerable<PropertyBinding> BindingsOf(long tagId) => _bindingsOfTag.Value[tagId];

    /// <summary>The nodes from the enterprise down to this one.</summary>
    public IReadOnlyList<Equipment> LineageOf(long equipmentId)
    {
        var line = new List<Equipment>();
        for (long? id = equipmentId; id is { } at && _model.Equipment.TryGetValue(at, out var node); id = node.ParentId) line.Add(node);
        line.Reverse();
        return line;
    }

    /// <summary>The templates from the root of the family down to this one.</summary>
    public IReadOnlyList<Template> AncestryOf(long templateId)
    {
        var line = new List<Template>();
        for (long? id = templateId; id is { } at && _model.Templates.TryGetValue(at, out var node); id = node.ParentId) line.Add(node);
        line.Reverse();
        return line;
    }

    /// <summary>This template and everything that inherits from it.</summary>
    public IEnumerable<Template> FamilyOf(long templateId)
    {
        if (_model.Templates.TryGetValue(templateId, out var own)) yield return own;
        foreach (var child in TemplatesBelow(templateId))
            foreach (var member in FamilyOf(child.Id)) yield return member;
    }

    /// <summary>The codes from the enterprise down to the node, joined by /.</summary>
    public string PathOf(long equipmentId) => _paths.GetOrAdd(equipmentId, id =>
    {
        var node = _model.Equipment[id];
        return node.ParentId is { } parent ? $"{PathOf(parent)}/{node.Code}" : node.Code;
    });

    /// <summary>A node and all below it, each parent before its children; of null, the whole plant.</summary>
    public IEnumerable<Equipment> Below(long? equipmentId)
    {
        var waiting = new Stack<Equipment>();
        if (equipmentId is { } id)
        {
            if (_model.Equipment.TryGetValue(id, out var node)) waiting.Push(node);
        }
        else
        {
            foreach (var root in ChildrenOf(null).Reverse()) waiting.Push(root);
        }
        while (waiting.TryPop(out var next))
        {
            yield return next;
            foreach (var child in ChildrenOf(next.Id).Reverse()) waiting.Push(child);
        }
    }

    /// <summary>The properties of a template, ancestors' first, with everything its layers say.</summary>
    public ImmutableArray<ResolvedProperty> PropertiesOf(long templateId) => _resolved.GetOrAdd(templateId, id =>
    {
        var template = _model.Templates[id];
        var inherited = template.ParentId is { } parent ? PropertiesOf(parent) : [];
        return
        [
            .. inherited.Select(p => Layer(p, template.Patches)),
            .. template.Properties.Select(p =>
            {
                var own = template.Patches.GetValueOrDefault(p.Id, PropertyPatch.Empty);
                return new ResolvedProperty(p, id, own, own);
            }),
        ];
    });

    /// <summary>The properties of an instance; none for a mere place.</summary>
    public ImmutableArray<ResolvedProperty> PropertiesOf(Equipment instance)
    {
        if (instance.TemplateId is not { } templateId) return [];
        return [.. PropertiesOf(templateId).Select(p => Layer(p, instance.Patches))];
    }

    private static ResolvedProperty Layer(ResolvedProperty inherited, ImmutableDictionary<long, PropertyPatch> patches) =>
        patches.TryGetValue(inherited.Id, out var own)
            ? inherited with { Facts = inherited.Facts.With(own), Own = own }
            : inherited.Own.IsEmpty ? inherited : inherited with { Own = PropertyPatch.Empty };
}
