using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Diagnosis;

/// <summary>Everything there is to say of a model as it is written, carried along from edit to edit: what an edit does not touch is not
/// looked at again.</summary>
/// <remarks>Not for several threads at once.</remarks>
public sealed class FindingBook
{
    private static readonly FindingSeverity[] Severities = Enum.GetValues<FindingSeverity>();

    // By severity, so that lists are put together without looking at each finding.
    private readonly Dictionary<long, ModelFinding[][]> _ofInstance = [];
    private readonly ModelFinding[][][] _sections = new ModelFinding[ModelFindings.All.Length][][];
    private PreparedTemplates _prepared;
    private readonly Dictionary<long, ModelFinding[][]> _ofFormulas = [];
    private readonly FormulaBook _formulas = new();
    private readonly SortedDictionary<(string Name, long Id), ModelFinding> _unused = new(ByName);
    private ModelFinding[][] _unusedTags = [];
    private int[] _counts = new int[Severities.Length];

    /// <param name="model">The model it begins with.</param>
    public FindingBook(PlantModel model)
    {
        Model = model;
        _prepared = new(model);
        Begin();
    }

    /// <summary>The model it speaks of.</summary>
    public PlantModel Model { get; private set; }

    /// <summary>All findings: errors first, then warnings, then hints; inside in plant order, and then what is of no instance.</summary>
    public List<ModelFinding>[] BySeverity
    {
        get
        {
            var all = Array.ConvertAll(Severities, s => new List<ModelFinding>(_counts[(int)s]));
            foreach (var node in Model.Index.EquipmentInOrder)
            {
                if (_ofInstance.TryGetValue(node.Id, out var own))
                    Add(own);
                if (_ofFormulas.TryGetValue(node.Id, out var formulas))
                    Add(formulas);
            }
            Add(_unusedTags);
            foreach (var section in _sections)
                Add(section);
            _counts = Array.ConvertAll(all, a => a.Count);
            return all;

            void Add(ModelFinding[][] some)
            {
                for (var i = 0; i < all.Length; i++)
                    all[i].AddRange(some[i]);
            }
        }
    }

    /// <summary>Goes on to a model that came from this one by changes.</summary>
    /// <param name="next">The model after them.</param>
    /// <param name="changes">All changes, in their order.</param>
    public void Follow(PlantModel next, IReadOnlyCollection<ModelChange> changes)
    {
        var before = Model;
        Model = next;
        _prepared = new(next);
        if (changes.Any(c => (c.After ?? c.Before) is OwnUnit or LibraryScale or StateList))
        {
            Begin();
            return;
        }
        Parallel.Invoke([
            () =>
            {
                var touched = Touched(before, next, changes);
                foreach (var id in touched)
                    Look(id);
                LookAtFormulas(_formulas.Follow(before, next, _prepared, changes, touched));
            },
            () => LookForUnused(changes),
            .. Enumerable
                .Range(0, _sections.Length)
                .Where(i => changes.Any(ModelFindings.All[i].IsTouched))
                .Select(i => (Action)(() => _sections[i] = Split(ModelFindings.All[i].Find(next)))),
        ]);
    }

    private void Begin()
    {
        _ofInstance.Clear();
        foreach (var node in Model.Index.EquipmentInOrder)
            Look(node.Id);
        _formulas.Begin(Model, _prepared);
        LookAtFormulas(null);
        LookForUnused();
        for (var i = 0; i < _sections.Length; i++)
            _sections[i] = Split(ModelFindings.All[i].Find(Model));
    }

    /// <summary>The nodes of which something else may be true after some changes.</summary>
    private static HashSet<long> Touched(PlantModel before, PlantModel next, IReadOnlyCollection<ModelChange> changes)
    {
        var touched = new HashSet<long>();
        var templates = new HashSet<long>();
        foreach (var change in changes)
        foreach (var entity in new[] { change.Before, change.After })
            switch (entity)
            {
                case Equipment node:
                    touched.Add(node.Id);
                    // Of what it stands below, parts may be missing.
                    touched.Add(node.ParentId ?? 0);
                    break;
                case PropertyBinding binding:
                    touched.Add(binding.EquipmentId);
                    break;
                case Tag tag:
                    foreach (var model in new[] { before, next })
                        touched.UnionWith(model.Index.BindingsOf(tag.Id).Select(b => b.EquipmentId));
                    break;
                case Template template:
                    foreach (var model in new[] { before, next })
                        templates.UnionWith(model.Index.FamilyOf(template.Id).Select(t => t.Id));
                    break;
            }
        foreach (var template in templates)
            touched.UnionWith(next.Index.InstanceIdsOf(template));
        return touched;
    }

    private void Look(long id)
    {
        if (Model.Equipment.GetValueOrDefault(id) is not { TemplateId: not null } node)
        {
            _ofInstance.Remove(id);
            return;
        }
        var found = InstanceFindings.Of(Model, _prepared, node).Select(OfInstance).ToList();
        if (found.Count == 0)
            _ofInstance.Remove(id);
        else
            _ofInstance[id] = Split(found);
    }

    private void LookAtFormulas(IReadOnlyCollection<long>? instances)
    {
        if (instances is null)
            _ofFormulas.Clear();
        foreach (var id in instances ?? Model.Index.EquipmentInOrder.Select(e => e.Id))
            if (_formulas.Of(id) is { Count: > 0 } found)
                _ofFormulas[id] = Split(found.Select(OfInstance));
            else
                _ofFormulas.Remove(id);
    }

    private void LookForUnused(IReadOnlyCollection<ModelChange>? changes = null)
    {
        if (changes is null || changes.Any(c => (c.After ?? c.Before) is Controller))
        {
            _unused.Clear();
            foreach (var tag in Model.Tags.Values)
                Look(tag);
        }
        else
        {
            var touched = new HashSet<long>();
            foreach (var entity in changes.SelectMany(c => new[] { c.Before, c.After }))
                if (entity is PropertyBinding binding)
                    touched.Add(binding.TagId);
                else if (entity is Tag tag)
                {
                    touched.Add(tag.Id);
                    _unused.Remove((tag.Name, tag.Id));
                }
            if (touched.Count == 0)
                return;
            foreach (var id in touched)
                if (Model.Tags.TryGetValue(id, out var tag))
                    Look(tag);
        }
        _unusedTags = Split([.. _unused.Values]);

        void Look(Tag tag)
        {
            if (Model.Index.IsUsed(tag.Id))
                _unused.Remove((tag.Name, tag.Id));
            else
                _unused[(tag.Name, tag.Id)] = new(Planner.Unused(Model, tag), null, 0);
        }
    }

    private static readonly Comparer<(string Name, long Id)> ByName = Comparer<(string Name, long Id)>.Create(
        (one, other) => string.CompareOrdinal(one.Name, other.Name) is var order and not 0 ? order : one.Id.CompareTo(other.Id)
    );

    private static ModelFinding[][] Split(IEnumerable<ModelFinding> found)
    {
        var all = found as IReadOnlyList<ModelFinding> ?? [.. found];
        return Array.ConvertAll(Severities, s =>
            all.Any(f => f.Finding.Severity == s) ? all.Where(f => f.Finding.Severity == s).ToArray() : []
        );
    }

    private static ModelFinding OfInstance(Finding finding) => new(finding, EntityKinds.Equipment, finding.EquipmentId);
}
