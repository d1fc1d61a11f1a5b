using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;
using Fralto.Core.Plant;

namespace Fralto.Core.Proposals;

/// <summary>Which controller serves which place: what tells tags apart that are called the same in several controllers.</summary>
internal sealed class ControllerHomes(PlantModel model, TagLexicon lexicon, PlantNames nodes, ModelLearning learned)
{
    private const double Serving = 2;
    private const double Farther = 0.7;
    private const int FewestBeside = 4;
    private const double Ruling = 0.8;
    private const double Stray = 0.15;

    private readonly Dictionary<long, HashSet<long>> _below = [];

    /// <summary>Controllers something is bound to.</summary>
    private readonly Lazy<HashSet<long>> _serving = new(() => [.. model.Bindings.Values.Select(b => model.Tags[b.TagId].ControllerId)]);

    /// <summary>Those of which what is bound was passed over.</summary>
    private readonly Lazy<IReadOnlySet<long>> _copying = new(() => learned.Copying(model, lexicon));

    private readonly Dictionary<long, List<Equipment>> _calledAfter = [];

    /// <summary>Where several controllers have a tag of the same name, the one that serves the place counts: its neighbours are bound to
    /// it, or it is called after the place.</summary>
    public void Weigh(OpenCell cell)
    {
        if (model.Controllers.Count < 2)
            return;
        var beside = cell
            .Matrix.Examples[cell.Property.Id]
            .Where(e => e.Instance.Instance.ParentId == cell.Instance.Instance.ParentId)
            .Select(e => lexicon.Tags[e.Position].ControllerId)
            .ToHashSet();
        Candidate[] named = [.. cell.Candidates.Where(c => c.By.Any(g => g is not null))];
        foreach (var twin in named)
        {
            if (_copying.Value.Contains(ControllerOf(twin)))
            {
                twin.Contradict(
                    ScorePartKind.Place,
                    -2.5,
                    $"{model.Controllers[ControllerOf(twin)].Name} has again what others have, and nothing is bound to it."
                );
                continue;
            }
            var having = named
                .Where(other => AreCalledAlike(twin, other))
                .Select(ControllerOf)
                .Where(c => !_copying.Value.Contains(c))
                .Distinct()
                .ToArray();
            var several = having.Length > 1;
            // One that serves nothing yet, where all others that have the name serve elsewhere, is left.
            var left = several ? having.Where(c => !_serving.Value.Contains(c)).ToArray() : [];
            // A tag that a rule names for others too is told from theirs by its controller, though it be the only one called so.
            var mayBeOthers = several || twin.By.Any(g => g?.Disputed.Contains(twin.Position) == true);
            // So is one called by a count alone: what another controller has may fall in with it.
            var isCounted = !mayBeOthers && twin.By[(int)TagFace.Name] is { Pattern.FollowsName: false };
            var meant = mayBeOthers || isCounted ? learned.Controllers(model).For(cell.Instance) : null;
            var controller = model.Controllers[ControllerOf(twin)];
            var (serves, called) = (Serves(cell.Instance, controller.Id), IsCalledAfter(controller, cell.Instance));
            // What a controller is called says more than what it serves farther off.
            if (called is not null && serves is { Weight: > -Serving and < Serving })
                serves = null;
            if (called is false && serves is not { Weight: > 0 })
                twin.Contradict(ScorePartKind.Place, -2.5, $"{controller.Name} is called after another place.");
            else if (beside.Count > 0 && !beside.Contains(controller.Id))
                twin.Contradict(
                    ScorePartKind.Place,
                    -3,
                    $"beside it {cell.Property.Name} comes from {model.Controllers[beside.First()].Name}, this from {controller.Name}."
                );
            else if (isCounted)
                Doubt(twin, controller, serves, meant);
            else if (!mayBeOthers)
                continue;
            else if (meant is { } only && serves is not { Weight: > 0 })
                if (only == controller.Id)
                    twin.Add(
                        ScorePartKind.Place,
                        Serving * Believed(twin, cell),
                        $"{controller.Name} is called after its place, as those that serve others"
                    );
                else
                    IsMeantElsewhere(twin, controller, only);
            else if (serves is { } known && !(known.Weight < 0 && called is true))
                if (known.Weight > 0)
                    twin.Add(ScorePartKind.Place, known.Weight * Believed(twin, cell), $"{controller.Name} serves {known.Place.Name}");
                else
                    IsServedByOthers(twin, controller, known);
            else if (called is true)
                twin.Add(ScorePartKind.Place, Serving * Believed(twin, cell), $"{controller.Name} is called after its place");
            else if (left is [var alone] && alone == controller.Id)
                twin.Add(
                    ScorePartKind.Place,
                    0.5,
                    $"all others that have a tag of this name serve elsewhere, and {controller.Name} nothing yet"
                );
            else if (left.Length == 1)
                twin.Contradict(ScorePartKind.Place, -Serving, $"{controller.Name} serves elsewhere.");
            else
                twin.Contradict(
                    ScorePartKind.Place,
                    -1,
                    $"{controller.Name} has a tag of this name as others have; bind one at {cell.Instance.Lineage[^2].Name} to say "
                        + "which serves it."
                );
        }
    }

    /// <summary>How much it says that a tag is that of the place's own controller: that tells it from others called the same, and makes
    /// what named it no surer.</summary>
    private static double Believed(Candidate candidate, OpenCell cell) =>
        Math.Clamp((candidate.By.Max(g => g?.StrengthFor(cell.Instance) ?? 0) - Doubtful) / (Sound - Doubtful), 0, 1);

    private const double Doubtful = 0.4;
    private const double Sound = 0.8;

    /// <summary>Holds back what comes from a controller that serves another place, where one serves this.</summary>
    private void Doubt(Candidate candidate, Controller controller, (double Weight, Equipment Place)? serves, long? meant)
    {
        if (!_serving.Value.Contains(controller.Id))
            return;
        if (meant is { } only && only != controller.Id && serves is not { Weight: > 0 })
            IsMeantElsewhere(candidate, controller, only);
        else if (meant is null && serves is { Weight: < 0 } known)
            IsServedByOthers(candidate, controller, known);
    }

    private void IsMeantElsewhere(Candidate candidate, Controller controller, long meant) =>
        candidate.Contradict(
            ScorePartKind.Place,
            -2.5,
            $"{model.Controllers[meant].Name}, not {controller.Name}, is called after its place."
        );

    private void IsServedByOthers(Candidate candidate, Controller controller, (double Weight, Equipment Place) known) =>
        candidate.Contradict(
            ScorePartKind.Place,
            known.Weight,
            $"what is bound at {known.Place.Name} comes from {NamesOf(_below[known.Place.Id])}, not from {controller.Name}."
        );

    /// <summary>Whether rules name both by the same text: what several controllers may have alike.</summary>
    private bool AreCalledAlike(Candidate one, Candidate other)
    {
        for (var face = 0; face < one.By.Length; face++)
            if (
                one.By[face] is not null
                && other.By[face] is not null
                && (
                    one.Position == other.Position
                    || NameToken.KeyOf(lexicon.Tokens[face][one.Position]) == NameToken.KeyOf(lexicon.Tokens[face][other.Position])
                )
            )
                return true;
        return false;
    }

    /// <summary>When tags are given to cells: what comes from another controller than all the same beside it is doubted.</summary>
    /// <returns>True when something was doubted.</returns>
    public bool Compare(IReadOnlyCollection<OpenCell> cells)
    {
        if (model.Controllers.Count < 2)
            return false;
        var counts = new Dictionary<(long Template, long Property, long Place), Dictionary<long, int>>();
        // Only where there was a choice between tags of one name does it tell anything which was taken.
        foreach (
            var cell in cells.Where(c =>
                c.Given is { Odds: > 0 }
                && c.Candidates.Where(k => k.By.Any(g => g is not null)).Select(ControllerOf).Distinct().Skip(1).Any()
            )
        )
            Count(cell.Matrix.Template.Id, cell.Property.Id, cell.Instance, ControllerOf(cell.Given!));
        foreach (var matrix in cells.Select(c => c.Matrix).Distinct())
        foreach (var (property, examples) in matrix.Examples)
        foreach (var example in examples.Where(e => e.Instance.Instance.TemplateId == matrix.Template.Id))
            Count(matrix.Template.Id, property, example.Instance, lexicon.Tags[example.Position].ControllerId);
        var doubted = false;
        foreach (var cell in cells)
        {
            if (RulingAt(cell) is not { } ruling)
                continue;
            foreach (var candidate in cell.Candidates.Where(c => c.By.Any(g => g is not null)))
            {
                var same = ruling.Beside.GetValueOrDefault(ControllerOf(candidate));
                if (same > Stray * ruling.Beside.Values.Sum() || ruling.Nearer.Contains(ControllerOf(candidate)))
                    continue;
                candidate.Contradict(
                    ScorePartKind.Place,
                    -3,
                    $"below {ruling.Place.Name} the others are fed by {model.Controllers[ruling.Controller].Name}."
                );
                doubted |= candidate == cell.Given;
            }
        }
        return doubted;

        // The controller that feeds nearly all the same below the nearest place with a few of them; and those that feed any nearer by,
        // against which what is farther off says nothing.
        (long Controller, Equipment Place, Dictionary<long, int> Beside, HashSet<long> Nearer)? RulingAt(OpenCell cell)
        {
            var nearer = new HashSet<long>();
            // What feeds others anywhere in the plant says nothing of one place in it.
            for (var up = cell.Instance.Lineage.Count - 2; up > 0; up--)
            {
                var place = cell.Instance.Lineage[up];
                if (counts.GetValueOrDefault((cell.Matrix.Template.Id, cell.Property.Id, place.Id)) is not { } beside)
                    continue;
                var all = beside.Values.Sum();
                if (all <= FewestBeside)
                {
                    nearer.UnionWith(beside.Keys);
                    continue;
                }
                var most = beside.MaxBy(b => b.Value);
                return most.Value >= Ruling * all ? (most.Key, place, beside, nearer) : null;
            }
            return null;
        }

        void Count(long template, long property, InstanceNames instance, long controller)
        {
            foreach (var place in instance.Lineage.SkipLast(1))
            {
                if (!counts.TryGetValue((template, property, place.Id), out var known))
                    counts[(template, property, place.Id)] = known = [];
                known[controller] = known.GetValueOrDefault(controller) + 1;
            }
        }
    }

    private string NamesOf(IEnumerable<long> controllers) =>
        string.Join(" and ", controllers.Select(c => model.Controllers[c].Name).Order(StringComparer.Ordinal));

    /// <summary>True for a place that stands at the level of one of an instance's, and is none of them.</summary>
    private static bool SharesNone(Equipment place, InstanceNames instance) =>
        instance.Lineage.Any(e => e.Level == place.Level && e.Id != place.Id);

    private long ControllerOf(Candidate candidate) => lexicon.Tags[candidate.Position].ControllerId;

    /// <summary>Whether what stands below the nearest place with anything bound is bound to a controller, less the farther away; null when
    /// to several.</summary>
    private (double Weight, Equipment Place)? Serves(InstanceNames instance, long controllerId)
    {
        var weight = Serving;
        // What is bound anywhere in the plant says nothing of one place in it.
        for (var up = instance.Lineage.Count - 2; up > 0; up--, weight *= Farther)
        {
            var place = instance.Lineage[up];
            var bound = BoundBelow(place.Id);
            if (bound.Count == 0)
                continue;
            // Where each of its places has its own, the next place has its own too.
            if (bound.Count > 1 && !bound.Overlaps(BoundBelow(instance.Lineage[up + 1].Id)) && HasEachItsOwn(place.Id))
                return null;
            return bound.Count > 1 && bound.Contains(controllerId) ? null : (bound.Contains(controllerId) ? weight : -weight, place);
        }
        return null;
    }

    /// <summary>Controllers that what stands below a place is bound to.</summary>
    private HashSet<long> BoundBelow(long placeId) =>
        _below.TryGetValue(placeId, out var known)
            ? known
            : _below[placeId] = [
                .. model.Index.Below(placeId).SelectMany(model.Index.BoundOf).Select(b => model.Tags[b.TagId].ControllerId),
            ];

    /// <summary>Whether what stands in a place is bound to a controller for each of the places in it, and none of them to that of
    /// another.</summary>
    private bool HasEachItsOwn(long placeId)
    {
        if (_ownEach.TryGetValue(placeId, out var known))
            return known;
        var serving = model.Index.ChildrenOf(placeId).Select(c => BoundBelow(c.Id)).Where(b => b.Count > 0).ToArray();
        return _ownEach[placeId] = serving.Length > 1 && serving.Sum(s => s.Count) == BoundBelow(placeId).Count;
    }

    private readonly Dictionary<long, bool> _ownEach = [];

    /// <summary>Whether a controller is called after a place of the instance; false when after another beside it, null when after
    /// none.</summary>
    private bool? IsCalledAfter(Controller controller, InstanceNames instance)
    {
        if (!_calledAfter.TryGetValue(controller.Id, out var places))
        {
            var words = NameToken.Of(controller.Name);
            places = _calledAfter[controller.Id] = [];
            for (var from = 0; from < words.Length; from++)
            for (var to = from + 1; to <= words.Length; to++)
                places.AddRange(nodes.Called(NameToken.KeyOf(words.AsSpan(from, to - from))));
        }
        if (places.Count == 0)
            return null;
        // Where several places are called so, it may be any of theirs.
        if (places.Any(instance.Lineage.Contains))
            return places.Where(p => !instance.Lineage.Contains(p)).Any(p => p.TemplateId is null && SharesNone(p, instance)) ? null : true;
        return places.Any(p => p.ParentId is { } above && instance.Lineage.Any(e => e.Id == above)) ? false : null;
    }
}
