using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Properties;
using Fralto.Core.Templates;

namespace Fralto.Core.Plant;

/// <summary>Look-ups over one model: children, instances, paths, parts, labels, resolved properties.</summary>
/// <remarks>
/// What an edit touches is carried over from the model before it, so that an edit of a plant of a hundred thousand nodes costs what it
/// changes; what is left is built when first asked for and shared by all readers. Each template is resolved once, instances lay their
/// few patches over it.
/// </remarks>
public sealed class ModelIndex
{
    private static readonly IComparer<Tag> ByName = Comparer<Tag>.Create(
        (one, other) =>
            StringComparer.OrdinalIgnoreCase.Compare(one.Name, other.Name) is var order and not 0 ? order : one.Id.CompareTo(other.Id)
    );

    /// <summary>With more nodes than this in one edit, look-ups are built anew.</summary>
    private const int MostTouched = 2000;

    private readonly PlantModel _model;
    private readonly Lazy<ImmutableDictionary<long, ImmutableArray<long>>> _children;
    private readonly Lazy<ImmutableDictionary<long, ImmutableSortedSet<long>>> _instances;
    private readonly Lazy<ImmutableDictionary<long, ImmutableSortedSet<Tag>>> _tags;
    private readonly Lazy<ImmutableDictionary<long, ImmutableArray<PropertyBinding>>> _bindingsOfTag;
    private readonly Lazy<ImmutableSortedSet<long>> _shared;
    private readonly Lazy<ImmutableDictionary<long, int>> _bound;
    private readonly Lazy<PropertyBinding[]> _simulations;
    private readonly Lazy<ILookup<long, Template>> _descendants;
    private readonly Lazy<PlantLayout> _layout;
    private readonly Lazy<(int[] Bound, int[] All)> _tagged;
    private readonly Lazy<SearchText> _codes;
    private readonly Lazy<SearchText> _names;
    private readonly Lazy<(Tag[] Tags, SearchText Texts)> _tagTexts;
    private readonly Lazy<Tag[]> _tagsInOrder;
    private readonly ConcurrentDictionary<long, ImmutableArray<ResolvedProperty>> _resolved;
    private readonly ConcurrentDictionary<long, string> _paths;

    internal ModelIndex(PlantModel model)
    {
        _model = model;
        _children = new(ChildrenAnew);
        _instances = new(() =>
            model
                .Equipment.Values.Where(e => e.TemplateId is not null)
                .GroupBy(e => e.TemplateId!.Value)
                .ToImmutableDictionary(g => g.Key, g => g.Select(e => e.Id).ToImmutableSortedSet())
        );
        _tags = new(() =>
            model.Tags.Values.GroupBy(t => t.ControllerId).ToImmutableDictionary(g => g.Key, g => g.ToImmutableSortedSet(ByName))
        );
        _bindingsOfTag = new(() =>
            model.Bindings.Values.GroupBy(b => b.TagId).ToImmutableDictionary(g => g.Key, g => g.ToImmutableArray())
        );
        _shared = new(() => [.. _bindingsOfTag.Value.Where(b => b.Value.Length > 1).Select(b => b.Key)]);
        _bound = new(() => model.Bindings.Values.GroupBy(b => b.EquipmentId).ToImmutableDictionary(g => g.Key, g => g.Count()));
        _simulations = new(SimulationsAnew);
        _descendants = new(DescendantsAnew);
        _layout = new(LayoutAnew);
        _tagged = new(CountTagged);
        _codes = new(CodeTexts);
        _names = new(NameTexts);
        _tagTexts = new(TagTexts);
        _tagsInOrder = new(TagsById);
        (_resolved, _paths) = (new(), new());
    }

    /// <summary>The look-ups of a model that came from another by changes: what they do not touch stays, what they touch is
    /// adjusted.</summary>
    private ModelIndex(PlantModel model, ModelIndex before, IReadOnlyCollection<ModelChange> changes)
    {
        _model = model;
        var equipment = changes
            .Where(c => (c.After ?? c.Before) is Equipment)
            .Select(c => ((Equipment?)c.Before, (Equipment?)c.After))
            .ToArray();
        var bindings = changes
            .Where(c => (c.After ?? c.Before) is PropertyBinding)
            .Select(c => ((PropertyBinding?)c.Before, (PropertyBinding?)c.After))
            .ToArray();
        var tags = changes.Where(c => (c.After ?? c.Before) is Tag).Select(c => ((Tag?)c.Before, (Tag?)c.After)).ToArray();
        var isMoved = equipment.Any(c =>
            c.Item1 is null || c.Item2 is null || (c.Item1.ParentId, c.Item1.Order) != (c.Item2.ParentId, c.Item2.Order)
        );
        var isRenamed = isMoved || equipment.Any(c => c.Item1!.Code != c.Item2!.Code);
        var isTemplated = changes.Any(c => (c.After ?? c.Before) is Template);

        _children =
            !isMoved ? before._children
            : before._children.IsValueCreated ? new(() => ChildrenAfter(before._children.Value, equipment))
            : new(ChildrenAnew);
        _instances = equipment.All(c => c.Item1?.TemplateId == c.Item2?.TemplateId)
            ? before._instances
            : new(() => InstancesAfter(before._instances.Value, equipment));
        _tags = tags.Length == 0 ? before._tags : new(() => TagsAfter(before._tags.Value, tags));
        _bindingsOfTag = bindings.Length == 0 ? before._bindingsOfTag : new(() => BindingsAfter(before._bindingsOfTag.Value, bindings));
        _shared =
            bindings.Length == 0 ? before._shared
            : before._shared.IsValueCreated ? new(() => SharedAfter(before._shared.Value, bindings))
            : new(() => [.. _bindingsOfTag.Value.Where(b => b.Value.Length > 1).Select(b => b.Key)]);
        _bound = bindings.Length == 0 ? before._bound : new(() => BoundAfter(before._bound.Value, bindings));
        _simulations = bindings.All(c => c.Item1?.Simulation is null && c.Item2?.Simulation is null)
            ? before._simulations
            : new(SimulationsAnew);
        _descendants = isTemplated ? new(DescendantsAnew) : before._descendants;
        _layout =
            equipment.Length == 0 ? before._layout
            : !before._layout.IsValueCreated || equipment.Length > MostTouched ? new(LayoutAnew)
            : isMoved ? new(() => before._layout.Value.After(model, Touched(equipment, bindings), ChildIdsOf))
            : new(() => before._layout.Value.With(equipment.Select(c => c.Item2!)));
        var isCounted = !isMoved && !isTemplated && equipment.All(c => c.Item1!.TemplateId == c.Item2!.TemplateId);
        _tagged =
            !isCounted ? new(CountTagged)
            : bindings.Length == 0 ? before._tagged
            : before._tagged.IsValueCreated && before._layout.IsValueCreated ? new(() => TaggedAfter(before._tagged.Value, bindings))
            : new(CountTagged);
        if (isMoved && !isTemplated && before._tagged.IsValueCreated && equipment.Length <= MostTouched)
            _tagged = new(() => Layout.From is { } from ? TaggedFrom(before._tagged.Value, from) : CountTagged());
        (_codes, _names) = equipment.Length == 0 ? (before._codes, before._names) : (new(CodeTexts), new(NameTexts));
        (_tagTexts, _tagsInOrder) = tags.Length == 0 ? (before._tagTexts, before._tagsInOrder) : (new(TagTexts), new(TagsById));
        _resolved = isTemplated ? new() : before._resolved;
        _paths = isRenamed ? new() : before._paths;
        // Chains of unread look-ups would keep every model of a session alive; the small ones are read at once.
        _ = (_children.Value, _instances.Value, _tags.Value, _bindingsOfTag.Value, _bound.Value);
        if (before._shared.IsValueCreated)
            _ = _shared.Value;
    }

    private ImmutableSortedSet<long> SharedAfter(
        ImmutableSortedSet<long> before,
        IEnumerable<(PropertyBinding? Before, PropertyBinding? After)> bindings
    )
    {
        var shared = before.ToBuilder();
        foreach (var tag in bindings.SelectMany(b => new[] { b.Before?.TagId, b.After?.TagId }).OfType<long>())
            if (_bindingsOfTag.Value.GetValueOrDefault(tag, []).Length > 1)
                shared.Add(tag);
            else
                shared.Remove(tag);
        return shared.ToImmutable();
    }

    /// <summary>All equipment, each parent before its children, siblings in their order.</summary>
    public ImmutableArray<Equipment> EquipmentInOrder => Shared(_layout.Value.Nodes);

    /// <summary>Where a node and all below it stand in the order of the plant: from the first position up to, not including, the last; null
    /// when it is not there.</summary>
    public (int From, int To)? RangeOf(long equipmentId) => Layout.PositionOf(equipmentId) is >= 0 and var at ? (at, Layout.End[at]) : null;

    /// <summary>The plant as flat arrays.</summary>
    internal PlantLayout Layout => _layout.Value;

    /// <summary>Codes and own labels of all nodes, in plant order.</summary>
    internal SearchText Codes => _codes.Value;

    /// <summary>Names of all nodes, in plant order.</summary>
    internal SearchText Names => _names.Value;

    /// <summary>Bindings whose tags are not heard because they are simulated.</summary>
    public IReadOnlyList<PropertyBinding> Simulations => _simulations.Value;

    /// <summary>All tags by id, which is the order in which they came.</summary>
    public IReadOnlyList<Tag> TagsInOrder => _tagsInOrder.Value;

    private Tag[] TagsById() => [.. _model.Tags.Values.OrderBy(t => t.Id)];

    /// <summary>All tags, with their names and descriptions as texts.</summary>
    internal (Tag[] Tags, SearchText Texts) TagNames => _tagTexts.Value;

    /// <summary>The look-ups after a set of changes.</summary>
    internal ModelIndex After(PlantModel model, IReadOnlyCollection<ModelChange> changes) => new(model, this, changes);

    /// <summary>The children of a node in their order; of null, the enterprises.</summary>
    public IEnumerable<Equipment> ChildrenOf(long? equipmentId) => ChildIdsOf(equipmentId ?? 0).Select(id => _model.Equipment[id]);

    /// <summary>How many children a node has.</summary>
    public int ChildCountOf(long equipmentId) => ChildIdsOf(equipmentId).Length;

    /// <summary>The order a new last child of a node gets.</summary>
    public int NextOrderBelow(long? equipmentId) =>
        ChildIdsOf(equipmentId ?? 0) is { Length: > 0 } ids ? _model.Equipment[ids[^1]].Order + 1 : 1;

    /// <summary>The templates that inherit directly from one; of null, the roots.</summary>
    public IEnumerable<Template> TemplatesBelow(long? templateId) => _descendants.Value[templateId ?? 0];

    /// <summary>The template's instances, not those of its descendants, in plant order.</summary>
    public IEnumerable<Equipment> InstancesOf(long templateId) =>
        !_instances.Value.TryGetValue(templateId, out var ids)
            ? []
            : ids.Select(id => _layout.Value.PositionOf(id)).Where(at => at >= 0).Order().Select(at => _layout.Value.Nodes[at]);

    /// <summary>How many instances a template has itself.</summary>
    public int InstanceCountOf(long templateId) => _instances.Value.GetValueOrDefault(templateId)?.Count ?? 0;

    /// <summary>How many instances a template and its descendants have.</summary>
    public int ReachOf(long templateId) => FamilyOf(templateId).Sum(t => InstanceCountOf(t.Id));

    /// <summary>The tags of a controller by name.</summary>
    public IReadOnlyCollection<Tag> TagsOf(long controllerId) => _tags.Value.GetValueOrDefault(controllerId) ?? [];

    /// <summary>Where a tag is bound.</summary>
    public IEnumerable<PropertyBinding> BindingsOf(long tagId) => _bindingsOfTag.Value.GetValueOrDefault(tagId, []);

    /// <summary>Where each tag is bound that is bound more than once.</summary>
    internal IEnumerable<ImmutableArray<PropertyBinding>> SharedTags => _shared.Value.Select(t => _bindingsOfTag.Value[t]);

    /// <summary>True when any property of a node is bound.</summary>
    internal bool IsBound(long equipmentId) => BoundCountOf(equipmentId) > 0;

    /// <summary>How many properties of a node are bound.</summary>
    public int BoundCountOf(long equipmentId) => _bound.Value.GetValueOrDefault(equipmentId);

    /// <summary>Ids of a template's instances, also of one that is not there.</summary>
    internal IReadOnlyCollection<long> InstanceIdsOf(long templateId) => _instances.Value.GetValueOrDefault(templateId) ?? [];

    /// <summary>How many tags feed anything.</summary>
    public int UsedTagCount => _bindingsOfTag.Value.Count;

    /// <summary>True when a tag feeds anything.</summary>
    public bool IsUsed(long tagId) => _bindingsOfTag.Value.ContainsKey(tagId);

    /// <summary>The bindings of a node in the order of its properties.</summary>
    public IEnumerable<PropertyBinding> BoundOf(Equipment node)
    {
        if (node.TemplateId is not { } template || _bound.Value.GetValueOrDefault(node.Id) == 0)
            yield break;
        foreach (var property in PropertiesOf(template))
            if (property.TakesTag && _model.Bindings.TryGetValue((node.Id, property.Id), out var binding))
                yield return binding;
    }

    /// <summary>Bound and all properties that take a tag, of a node and everything below it.</summary>
    public (int Bound, int All) TaggedBelow(long equipmentId) =>
        _layout.Value.PositionOf(equipmentId) is >= 0 and var at ? (_tagged.Value.Bound[at], _tagged.Value.All[at]) : default;

    /// <summary>The nodes from the enterprise down to this one.</summary>
    public IReadOnlyList<Equipment> LineageOf(long equipmentId)
    {
        var line = new List<Equipment>();
        for (long? id = equipmentId; id is { } at && _model.Equipment.TryGetValue(at, out var node); id = node.ParentId)
            line.Add(node);
        line.Reverse();
        return line;
    }

    /// <summary>The templates from the root of the family down to this one.</summary>
    public IReadOnlyList<Template> AncestryOf(long templateId)
    {
        var line = new List<Template>();
        for (long? id = templateId; id is { } at && _model.Templates.TryGetValue(at, out var node); id = node.ParentId)
            line.Add(node);
        line.Reverse();
        return line;
    }

    /// <summary>This template and everything that inherits from it.</summary>
    public IEnumerable<Template> FamilyOf(long templateId)
    {
        if (_model.Templates.TryGetValue(templateId, out var own))
            yield return own;
        foreach (var child in TemplatesBelow(templateId))
        foreach (var member in FamilyOf(child.Id))
            yield return member;
    }

    /// <summary>The parts of a template, ancestors' first.</summary>
    public IEnumerable<TemplatePart> PartsOf(long templateId) => AncestryOf(templateId).SelectMany(t => t.Parts);

    /// <summary>The levels instances of a template may stand at, as it or the nearest ancestor says; empty for any.</summary>
    public ImmutableArray<EquipmentLevel> LevelsOf(long templateId) =>
        AncestryOf(templateId).LastOrDefault(t => !t.Levels.IsEmpty)?.Levels ?? [];

    /// <summary>The labels a template gives its instances, its ancestors' among them.</summary>
    public ImmutableSortedDictionary<string, string> LabelsOf(long templateId) =>
        AncestryOf(templateId).Aggregate(Labels.None, (labels, t) => labels.With(t.Labels));

    /// <summary>The labels of a node: from the enterprise down, each node's template and then the node itself; the last to speak is
    /// heard.</summary>
    public ImmutableSortedDictionary<string, string> LabelsOf(Equipment node) =>
        LineageOf(node.Id)
            .Aggregate(Labels.None, (labels, n) =>
                (n.TemplateId is { } template ? labels.With(LabelsOf(template)) : labels).With(n.Labels)
            );

    /// <summary>The codes from the enterprise down to the node, joined by /.</summary>
    public string PathOf(long equipmentId) => _paths.GetOrAdd(equipmentId, id =>
        {
            var node = _model.Equipment[id];
            return node.ParentId is { } parent ? $"{PathOf(parent)}/{node.Code}" : node.Code;
        });

    /// <summary>The node a path names, in any case of letters; null when there is none.</summary>
    public Equipment? Find(string path)
    {
        Equipment? at = null;
        foreach (var code in path.Split('/'))
        {
            at = ChildrenOf(at?.Id).FirstOrDefault(e => string.Equals(e.Code, code, StringComparison.OrdinalIgnoreCase));
            if (at is null)
                return null;
        }
        return at;
    }

    /// <summary>A node and all below it, each parent before its children; of null, the whole plant.</summary>
    public IReadOnlyList<Equipment> Below(long? equipmentId)
    {
        var layout = _layout.Value;
        if (equipmentId is not { } id)
            return layout.Nodes;
        return layout.PositionOf(id) is >= 0 and var at
            ? new ArraySegment<Equipment>(layout.Nodes, at, layout.End[at] - at)
            : ArraySegment<Equipment>.Empty;
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
        if (instance.TemplateId is not { } templateId)
            return [];
        return [.. PropertiesOf(templateId).Select(p => Layer(p, instance.Patches))];
    }

    /// <summary>What the layers above a template say of a property; nothing when the template declares it.</summary>
    /// <param name="templateId">The template.</param>
    /// <param name="property">A property it has.</param>
    public PropertyPatch InheritedOf(long templateId, ResolvedProperty property) =>
        property.DeclaredBy != templateId && _model.Templates[templateId].ParentId is { } parent
            ? PropertiesOf(parent).First(p => p.Id == property.Id).Facts
            : PropertyPatch.Empty;

    private static ResolvedProperty Layer(ResolvedProperty inherited, ImmutableDictionary<long, PropertyPatch> patches) =>
        patches.TryGetValue(inherited.Id, out var own) ? inherited with { Facts = inherited.Facts.With(own), Own = own }
        : inherited.Own.IsEmpty ? inherited
        : inherited with { Own = PropertyPatch.Empty };

    private static ImmutableArray<Equipment> Shared(Equipment[] nodes) =>
        System.Runtime.InteropServices.ImmutableCollectionsMarshal.AsImmutableArray(nodes);

    /// <summary>Ids of the children of a node in their order, also of one that is not there; of 0, the enterprises.</summary>
    internal ImmutableArray<long> ChildIdsOf(long id) => _children.Value.GetValueOrDefault(id, []);

    private PlantLayout LayoutAnew() => PlantLayout.Of(_model, ChildIdsOf);

    private PropertyBinding[] SimulationsAnew() =>
        [.. _model.Bindings.Values.Where(b => b.Simulation is not null).OrderBy(b => b.Simulation!.TagId)];

    private ILookup<long, Template> DescendantsAnew() =>
        _model.Templates.Values.OrderBy(t => t.Name, StringComparer.Ordinal).ToLookup(t => t.ParentId ?? 0);

    private ImmutableDictionary<long, ImmutableArray<long>> ChildrenAnew() =>
        _model
            .Equipment.Values.OrderBy(e => e.Order)
            .ThenBy(e => e.Id)
            .GroupBy(e => e.ParentId ?? 0)
            .ToImmutableDictionary(g => g.Key, g => g.Select(e => e.Id).ToImmutableArray());

    private ImmutableDictionary<long, ImmutableArray<long>> ChildrenAfter(
        ImmutableDictionary<long, ImmutableArray<long>> children,
        (Equipment? Before, Equipment? After)[] changes
    )
    {
        var next = children.ToBuilder();
        // Adding the last child is by far the commonest change: the parents touched are sorted anew, once each, and no others.
        var touched = changes.SelectMany(c => new[] { c.Before, c.After }).OfType<Equipment>().Select(e => e.ParentId ?? 0).ToHashSet();
        var here = changes.Where(c => c.After is not null).ToLookup(c => c.After!.ParentId ?? 0, c => c.After!.Id);
        var changed = changes.Select(c => (c.After ?? c.Before)!.Id).ToHashSet();
        foreach (var parent in touched)
        {
            var ids = children
                .GetValueOrDefault(parent, [])
                .Where(id => !changed.Contains(id))
                .Concat(here[parent])
                .Select(id => _model.Equipment[id])
                .OrderBy(e => e.Order)
                .ThenBy(e => e.Id)
                .Select(e => e.Id)
                .ToImmutableArray();
            if (ids.IsEmpty)
                next.Remove(parent);
            else
                next[parent] = ids;
        }
        return next.ToImmutable();
    }

    private static ImmutableDictionary<long, ImmutableSortedSet<long>> InstancesAfter(
        ImmutableDictionary<long, ImmutableSortedSet<long>> instances,
        (Equipment? Before, Equipment? After)[] changes
    )
    {
        foreach (var template in changes.SelectMany(c => new[] { c.Before?.TemplateId, c.After?.TemplateId }).OfType<long>().Distinct())
        {
            var gone = changes.Where(c => c.Before?.TemplateId == template).Select(c => c.Before!.Id);
            var here = changes.Where(c => c.After?.TemplateId == template).Select(c => c.After!.Id);
            instances = instances.SetItem(template, instances.GetValueOrDefault(template, []).Except(gone).Union(here));
        }
        return instances;
    }

    private static ImmutableDictionary<long, ImmutableSortedSet<Tag>> TagsAfter(
        ImmutableDictionary<long, ImmutableSortedSet<Tag>> tags,
        (Tag? Before, Tag? After)[] changes
    )
    {
        foreach (
            var controller in changes.SelectMany(c => new[] { c.Before?.ControllerId, c.After?.ControllerId }).OfType<long>().Distinct()
        )
        {
            var gone = changes.Where(c => c.Before?.ControllerId == controller).Select(c => c.Before!);
            var here = changes.Where(c => c.After?.ControllerId == controller).Select(c => c.After!);
            tags = tags.SetItem(
                controller,
                (tags.GetValueOrDefault(controller) ?? ImmutableSortedSet.Create(ByName)).Except(gone).Union(here)
            );
        }
        return tags;
    }

    private static ImmutableDictionary<long, ImmutableArray<PropertyBinding>> BindingsAfter(
        ImmutableDictionary<long, ImmutableArray<PropertyBinding>> bindings,
        (PropertyBinding? Before, PropertyBinding? After)[] changes
    )
    {
        var next = bindings.ToBuilder();
        foreach (var (before, after) in changes)
        {
            if (before is not null)
            {
                var left = next[before.TagId].Remove(before);
                if (left.IsEmpty)
                    next.Remove(before.TagId);
                else
                    next[before.TagId] = left;
            }
            if (after is not null)
                next[after.TagId] = next.GetValueOrDefault(after.TagId, []).Add(after);
        }
        return next.ToImmutable();
    }

    private static ImmutableDictionary<long, int> BoundAfter(
        ImmutableDictionary<long, int> bound,
        (PropertyBinding? Before, PropertyBinding? After)[] changes
    )
    {
        var next = bound.ToBuilder();
        foreach (var (before, after) in changes)
        {
            if (before is not null)
                next[before.EquipmentId]--;
            if (after is not null)
                next[after.EquipmentId] = next.GetValueOrDefault(after.EquipmentId) + 1;
        }
        return next.ToImmutable();
    }

    private SearchText CodeTexts() =>
        SearchText.Of(Layout.Nodes.Length, i =>
            Layout.Nodes[i] is { Labels.IsEmpty: true } node
                ? node.Code
                : $"{Layout.Nodes[i].Code}\u001f{Labels.Text(Layout.Nodes[i].Labels)}"
        );

    private SearchText NameTexts() => SearchText.Of(Layout.Nodes.Length, i => Layout.Nodes[i].Name);

    private (Tag[] Tags, SearchText Texts) TagTexts()
    {
        var tags = _model.Controllers.Keys.Order().SelectMany(TagsOf).ToArray();
        return (
            tags,
            SearchText.Of(tags.Length, i => tags[i].Description.Length == 0 ? tags[i].Name : $"{tags[i].Name}\u001f{tags[i].Description}")
        );
    }

    /// <summary>The counts with those of the nodes adjusted, and of all above them, whose bindings came or went.</summary>
    private (int[] Bound, int[] All) TaggedAfter(
        (int[] Bound, int[] All) tagged,
        (PropertyBinding? Before, PropertyBinding? After)[] changes
    )
    {
        var bound = (int[])tagged.Bound.Clone();
        foreach (var (before, after) in changes)
            for (
                var at = before is null || after is null ? Layout.PositionOf((after ?? before)!.EquipmentId) : -1;
                at >= 0;
                at = Layout.Parent[at]
            )
                bound[at] += after is null ? -1 : 1;
        return (bound, tagged.All);
    }

    private static IEnumerable<long> Touched(
        (Equipment? Before, Equipment? After)[] equipment,
        (PropertyBinding? Before, PropertyBinding? After)[] bindings
    ) =>
        equipment
            .SelectMany(c => new[] { c.Before?.ParentId, c.After?.ParentId, c.After?.Id })
            .OfType<long>()
            .Concat(bindings.Select(b => (b.After ?? b.Before)!.EquipmentId));

    private (int[] Bound, int[] All) CountTagged() => TaggedFrom(([], []), null);

    /// <summary>Counts what takes a tag and what has one, below each node; where nothing was touched the earlier counts hold.</summary>
    private (int[] Bound, int[] All) TaggedFrom((int[] Bound, int[] All) earlier, int[]? from)
    {
        var layout = _layout.Value;
        var (bound, all) = (new int[layout.Nodes.Length], new int[layout.Nodes.Length]);
        var takes = _model.Templates.Keys.ToDictionary(id => id, id => PropertiesOf(id).Count(p => p.TakesTag));
        // Children come after their parents, so going backwards each node is complete before it is added to its parent.
        for (var i = layout.Nodes.Length - 1; i >= 0; i--)
        {
            if (from?[i] is >= 0 and var old)
                (bound[i], all[i]) = (earlier.Bound[old], earlier.All[old]);
            else if (layout.Nodes[i].TemplateId is { } template)
            {
                all[i] += takes[template];
                bound[i] += _bound.Value.GetValueOrDefault(layout.Nodes[i].Id);
            }
            if (layout.Parent[i] < 0 || from?[layout.Parent[i]] is >= 0)
                continue;
            all[layout.Parent[i]] += all[i];
            bound[layout.Parent[i]] += bound[i];
        }
        return (bound, all);
    }
}
