using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Templates;

namespace Fralto.Core.Planning;

/// <summary>What is to be said of all formulas of a model, carried along from edit to edit: only those are looked at again that look at
/// what an edit touches.</summary>
internal sealed class FormulaBook
{
    private readonly Dictionary<long, FormulaSight> _sights = [];
    private readonly Dictionary<long, HashSet<long>> _seenBy = [];
    private readonly Dictionary<long, HashSet<long>> _belowBy = [];
    private readonly Dictionary<long, List<Finding>> _found = [];

    /// <summary>What each worked-out property takes, by instance and property.</summary>
    private readonly Dictionary<(long, long), List<(long, long)>> _takes = [];

    /// <summary>Texts with a hyphen: whether that is a minus or part of a code hangs on the codes there are.</summary>
    private readonly HashSet<string> _hyphened = new(StringComparer.Ordinal);
    private bool _hasCircles;

    /// <summary>Stands for what the limits of an instance take.</summary>
    private const long OfLimits = 0;

    /// <summary>What is to be said of the formulas of an instance.</summary>
    public IReadOnlyList<Finding> Of(long instance) => _found.GetValueOrDefault(instance) ?? [];

    /// <summary>Looks at all formulas.</summary>
    public void Begin(PlantModel model, PreparedTemplates prepared)
    {
        _sights.Clear();
        _seenBy.Clear();
        _belowBy.Clear();
        _found.Clear();
        _takes.Clear();
        _hyphened.Clear();
        var circles = Look(model, prepared, model.Index.EquipmentInOrder, areAll: true);
        _hasCircles = circles.Length > 0;
        foreach (var circle in circles)
            Add(circle);
    }

    /// <summary>Goes on to a model that came from another by changes.</summary>
    /// <param name="before">The model so far.</param>
    /// <param name="next">The model from now on.</param>
    /// <param name="prepared">Its templates, prepared.</param>
    /// <param name="changes">What has changed.</param>
    /// <param name="touched">The nodes of which something else may be true.</param>
    /// <returns>The instances whose formulas were looked at; null when it was all of them.</returns>
    public IReadOnlyCollection<long>? Follow(
        PlantModel before,
        PlantModel next,
        PreparedTemplates prepared,
        IReadOnlyCollection<ModelChange> changes,
        IReadOnlyCollection<long> touched
    )
    {
        // A way that leads round in a circle is said with all its places.
        if (!_hasCircles && !IsReadOtherwise(changes))
        {
            var instances = Looking(before, next, prepared, [.. touched, .. Anywhere(changes)]);
            foreach (var instance in instances)
                Forget(instance);
            Look(next, prepared, instances.Select(i => next.Equipment.GetValueOrDefault(i)).OfType<Equipment>(), areAll: false);
            if (!instances.Any(LeadsRound))
                return instances;
        }
        Begin(next, prepared);
        return null;
    }

    private static IEnumerable<long> Anywhere(IReadOnlyCollection<ModelChange> changes)
    {
        if (changes.Any(c => (c.After ?? c.Before) is Template))
            yield return FormulaNames.AnyTemplate;
        if (changes.Any(c => (c.Before as Equipment)?.TemplateId != (c.After as Equipment)?.TemplateId))
            yield return FormulaNames.AnyInstance;
    }

    /// <summary>True when a code with a hyphen comes or goes that some formula may mean.</summary>
    private bool IsReadOtherwise(IReadOnlyCollection<ModelChange> changes) =>
        _hyphened.Count > 0
        && changes.Any(change =>
        {
            var (before, after) = (CodesOf(change.Before), CodesOf(change.After));
            return before
                .Except(after)
                .Concat(after.Except(before))
                .Any(c => c.Contains('-', StringComparison.Ordinal) && _hyphened.Any(t => t.Contains(c, StringComparison.Ordinal)));
        });

    private static string[] CodesOf(object? entity) =>
        entity switch
        {
            Equipment node => [node.Code],
            Template template =>
            [
                .. template.Properties.Select(p => p.Code),
                .. template.Parts.SelectMany(p => p.Members).Select(m => m.Code),
            ],
            _ => [],
        };

    /// <summary>The instances whose formulas look at something that is touched, or that have other formulas now.</summary>
    private HashSet<long> Looking(PlantModel before, PlantModel next, PreparedTemplates prepared, HashSet<long> touched)
    {
        var looking = new HashSet<long>();
        foreach (var id in touched)
        {
            if (_seenBy.TryGetValue(id, out var seeing))
                looking.UnionWith(seeing);
            if (_sights.ContainsKey(id) || (next.Equipment.TryGetValue(id, out var node) && prepared.HasFormulas(node)))
                looking.Add(id);
            if (_belowBy.Count == 0)
                continue;
            foreach (var model in new[] { before, next })
                if (model.Equipment.ContainsKey(id))
                    foreach (var above in model.Index.LineageOf(id))
                        if (_belowBy.TryGetValue(above.Id, out var taking))
                            looking.UnionWith(taking);
        }
        // Labels are those of the places above as well.
        if (_belowBy.Count > 0 && touched.Any(t => before.Index.ChildCountOf(t) > 0 || next.Index.ChildCountOf(t) > 0))
        {
            foreach (var (place, taking) in _belowBy)
                if (next.Equipment.ContainsKey(place) && next.Index.LineageOf(place).Any(n => touched.Contains(n.Id)))
                    looking.UnionWith(taking);
        }
        return looking;
    }

    private void Forget(long instance)
    {
        _found.Remove(instance);
        if (!_sights.Remove(instance, out var sight))
            return;
        foreach (var (nodes, by) in new[] { (sight.Nodes, _seenBy), (sight.Below, _belowBy) })
        foreach (var node in nodes)
            if (by.TryGetValue(node, out var instances) && instances.Remove(instance) && instances.Count == 0)
                by.Remove(node);
        foreach (var property in sight.Properties)
            _takes.Remove((instance, property));
    }

    /// <summary>Looks at the formulas of instances that are not known yet.</summary>
    /// <returns>What leads round in a circle, where all are looked at.</returns>
    private Finding[] Look(PlantModel model, PreparedTemplates prepared, IEnumerable<Equipment> instances, bool areAll)
    {
        var findings = new List<Finding>();
        var (numbers, points) = (new Dictionary<(long, long), int>(), new List<(long EquipmentId, long PropertyId)>());
        var planner = new FormulaPlanner(model, PointOf);
        foreach (var instance in instances)
        {
            if (!prepared.HasFormulas(instance))
                continue;
            var sight = _sights[instance.Id] = planner.Sight = new();
            foreach (var property in prepared.Of(instance))
            {
                if (PointOf((instance.Id, property.Property.Id)) is not (>= 0 and var point))
                    continue;
                if (!property.Watched.IsEmpty)
                    sight.Properties.Add(OfLimits);
                foreach (var watched in property.Watched)
                {
                    Read(watched.Text);
                    if (InstanceFindings.OfWatched(planner, instance, property, watched, findings) is { } program)
                        InstanceFindings.AddWatched(
                            planner,
                            instance,
                            property,
                            watched,
                            program,
                            NewPoint((instance.Id, OfLimits)),
                            findings
                        );
                }
                if (property.Property.Facts.Formula is not { } text)
                    continue;
                Read(text);
                sight.Properties.Add(property.Property.Id);
                if (property.Property.Declaration.Kind == PropertyKind.Calculated)
                    InstanceFindings.OfAdded(planner, [(instance, property.Property, point)], [], findings);
                else if (property.Property.Declaration.Kind == PropertyKind.Command)
                    InstanceFindings.OfAdded(planner, [], [(instance, property.Property, point, 0)], findings);
            }
            foreach (var node in sight.Nodes)
                Note(_seenBy, node, instance.Id);
            foreach (var place in sight.Below)
                Note(_belowBy, place, instance.Id);
        }
        foreach (var finding in findings)
            Add(finding);
        foreach (var (point, operand) in planner.Takes)
            if (_takes.TryGetValue(points[point], out var takes))
                takes.Add(points[operand]);
            else
                _takes[points[point]] = [points[operand]];
        return areAll ? InstanceFindings.OfOrder(planner, i => (points[i].EquipmentId, PathOf(points[i]))) : [];

        int NewPoint((long, long) of)
        {
            points.Add(of);
            return points.Count - 1;
        }

        int PointOf((long EquipmentId, long PropertyId) of)
        {
            if (numbers.TryGetValue(of, out var known))
                return known;
            return numbers[of] =
                model.Equipment.GetValueOrDefault(of.EquipmentId) is { } node && prepared.HasPoint(node, of.PropertyId) ? NewPoint(of) : -1;
        }

        string PathOf((long EquipmentId, long PropertyId) of) =>
            $"{model.Index.PathOf(of.EquipmentId)}/"
            + model.Index.PropertiesOf(model.Equipment[of.EquipmentId].TemplateId!.Value).FirstOrDefault(p => p.Id == of.PropertyId)?.Code;
    }

    private void Read(string text)
    {
        if (text.Contains('-', StringComparison.Ordinal))
            _hyphened.Add(text);
    }

    private void Add(Finding finding)
    {
        if (_found.TryGetValue(finding.EquipmentId, out var its))
            its.Add(finding);
        else
            _found[finding.EquipmentId] = [finding];
    }

    private static void Note(Dictionary<long, HashSet<long>> by, long node, long instance)
    {
        if (by.TryGetValue(node, out var instances))
            instances.Add(instance);
        else
            by[node] = [instance];
    }

    /// <summary>True when a way of what is taken leads from a property of an instance back to itself.</summary>
    private bool LeadsRound(long instance)
    {
        if (!_sights.TryGetValue(instance, out var sight))
            return false;
        foreach (var property in sight.Properties)
        {
            var start = (instance, property);
            var (seen, open) = (new HashSet<(long, long)>(), new Stack<(long, long)>([start]));
            while (open.TryPop(out var at))
                foreach (var takes in _takes.GetValueOrDefault(at) ?? [])
                    if (takes == start)
                        return true;
                    else if (seen.Add(takes))
                        open.Push(takes);
        }
        return false;
    }
}
