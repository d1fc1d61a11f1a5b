using Fralto.Core.Bindings;
using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>Learns the naming rules of templates: from examples, or from tags that speak clearly where there are none.</summary>
internal sealed class MatrixLearner(
    PlantModel model,
    TagLexicon lexicon,
    ModelLearning known,
    TagsInUse used,
    SpokenPlaces places,
    CountedTags counted
)
{
    private const int MostExamples = 3;
    private const int MostSupposed = 12;
    private const int MostHinting = 4;
    private const int MostWays = 4;
    private const double StrongRule = 0.6;
    private const double LeastLead = 0.12;
    private const double LeastGain = 0.5;

    private readonly ControllerNames? _controllers = model.Controllers.Count > 1 ? known.Controllers(model) : null;
    private readonly RuleLearner _rules = new(lexicon, used.IsFree);
    private readonly RuleTally _tally = new(lexicon, used.IsFree, model.Controllers.Count > 1 ? known.Controllers(model) : null);
    private readonly RuleSets _sets = new(lexicon, p => used.IsFree(p, null));
    private readonly UnshownNames _unshown = new(lexicon, p => used.IsFree(p, null));
    private readonly Lazy<CousinNames> _cousins = new(() => known.Cousins(() => new(model, lexicon, known.Nodes)));

    /// <summary>Learns what is not known of some matrices yet.</summary>
    public void Learn(IEnumerable<TemplateMatrix> matrices)
    {
        var fresh = new List<TemplateMatrix>();
        foreach (var matrix in matrices)
        {
            if (known.Templates.TryGetValue(matrix.Template.Id, out var learned))
                matrix.Learned = learned;
            else
                fresh.Add(matrix);
        }
        foreach (var matrix in fresh)
        {
            Gather(matrix);
            FromExamples(matrix);
        }
        var bare = fresh.Where(b => b.Properties.Any(p => b.Guesses[p.Id].Count == 0)).ToDictionary(b => b, ModelsOf);
        places.Look(bare.Values.SelectMany(m => m));
        foreach (var (matrix, models) in bare)
            Suppose(matrix, models);
        foreach (var matrix in fresh)
        {
            foreach (var property in matrix.Properties)
            foreach (var guess in matrix.Guesses[property.Id])
                _tally.Count(guess, matrix.Instances, matrix.Examples[property.Id], FitOf(property));
            Cover(matrix);
            _sets.Judge(matrix);
            foreach (var guess in matrix.Guesses.Values.SelectMany(g => g).Where(g => !g.IsKept))
                (guess.Cousins, guess.Borne) = _cousins.Value.Of(guess, matrix.Template.Id);
            RuleComparison.Sisters(matrix.Guesses.Values);
            foreach (var property in matrix.Properties)
                RuleComparison.Compare(matrix.Guesses[property.Id]);
            foreach (var property in matrix.Properties)
                Reconcile(matrix, property);
            Describe(matrix);
            known.Templates.Add(matrix.Template.Id, matrix.Learned);
        }
    }

    /// <summary>Counts what each rule leaves unexplained beside the rules of the other properties: of those made from the same instance the
    /// ones that follow the same, for whoever reckons so for one does so for all, and else the best.</summary>
    private void Cover(TemplateMatrix matrix)
    {
        static (TagFace, long?) MadeFrom(RuleGuess guess) => (guess.Face, guess.Example?.Instance.Instance.Id);
        var best = matrix.Properties.ToDictionary(
            p => p.Id,
            p => matrix.Guesses[p.Id].GroupBy(g => (g.Face, g.Example)).Select(f => f.MaxBy(g => g.Score)!).ToArray()
        );
        var alike = matrix
            .Guesses.SelectMany(p => p.Value.Select(g => (Property: p.Key, Rule: g)))
            .GroupBy(g => (MadeFrom(g.Rule), g.Rule.Signature))
            .ToDictionary(g => g.Key, g => g.GroupBy(r => r.Property).ToDictionary(r => r.Key, r => r.MaxBy(x => x.Rule.Score).Rule));
        var cells = matrix.Instances.Length * matrix.Properties.Length;
        foreach (var ((from, _), its) in alike)
        {
            // Of each tag the property that has it, 0 where several have.
            var owner = new Dictionary<int, long>();
            foreach (var (property, rules) in best)
            foreach (
                var position in rules
                    .Where(r => !its.ContainsKey(property) || MadeFrom(r) != from)
                    .Concat(its.TryGetValue(property, out var same) ? [same] : [])
                    .SelectMany(r => r.Claimed.Keys)
            )
                owner[position] = owner.GetValueOrDefault(position, property) == property ? property : 0;
            foreach (var property in its.Keys)
            foreach (var guess in matrix.Guesses[property].Where(g => (MadeFrom(g), g.Signature) == (from, its[property].Signature)))
                _tally.Cover(
                    guess,
                    position => owner.TryGetValue(position, out var had) && had != property,
                    cells,
                    matrix.Instances.Length
                );
        }
    }

    /// <summary>Instances that stand for all where tags are to be supposed: those with something bound, then some from different
    /// places.</summary>
    private static InstanceNames[] ModelsOf(TemplateMatrix matrix) =>
        [
            .. matrix
                .Examples.Values.SelectMany(e => e)
                .Select(e => e.Instance)
                .Concat(matrix.Instances.GroupBy(i => i.Instance.ParentId).Select(g => g.First()).Take(MostExamples))
                .DistinctBy(i => i.Instance.Id)
                .Take(MostExamples),
        ];

    private void Gather(TemplateMatrix matrix)
    {
        foreach (var property in matrix.Properties)
        {
            var own = ExamplesOf(matrix.Instances.Select(i => i.Instance), property.Id);
            // Without a binding of this template those of its kin say how the property is called elsewhere.
            matrix.Examples[property.Id] =
                own.Count > 0
                    ? own
                    :
                    [
                        .. model
                            .Index.FamilyOf(property.DeclaredBy)
                            .Where(t => t.Id != matrix.Template.Id)
                            .SelectMany(t => ExamplesOf(model.Index.InstancesOf(t.Id), property.Id))
                            .Take(MostExamples),
                    ];
        }
    }

    private List<Example> ExamplesOf(IEnumerable<Equipment> instances, long propertyId) =>
        [
            .. instances
                .Select(e => model.Bindings.GetValueOrDefault((e.Id, propertyId)))
                .OfType<PropertyBinding>()
                .Where(b => lexicon.PositionOf.ContainsKey(b.TagId))
                .Select(b => new Example(known.Nodes.Of(b.EquipmentId), lexicon.PositionOf[b.TagId], b.Slice, model.Tags[b.TagId].Count)),
        ];

    private Func<int, Slice?, bool> FitOf(ResolvedProperty property) =>
        (position, slice) => BindingRules.Misfit(model, property, lexicon.Tags[position], slice) is null;

    private void FromExamples(TemplateMatrix matrix)
    {
        _rules.Shown.Clear();
        _rules.Shown.UnionWith(
            matrix
                .Examples.Values.Select(e => e.FirstOrDefault())
                .OfType<Example>()
                .Take(MostHinting)
                .SelectMany(e => _cousins.Value.Steps(e, matrix.Template.Id))
        );
        foreach (var property in matrix.Properties)
        {
            var guesses = matrix.Guesses[property.Id] = [];
            foreach (var rule in matrix.Template.Rules.Where(r => r.PropertyId == property.Id))
            {
                var kept = new RuleGuess(rule.Face, rule.Pattern, 1, () => "kept") { IsKept = true };
                _rules.Try(kept, null, new Dictionary<long, Example>(), InstanceSample.Of(null, matrix.Instances), FitOf(property));
                kept.Trust = kept.Hits > 0 || kept.Of == 0 ? 1 : 0;
                guesses.Add(kept);
            }
            LearnFrom(matrix, property);
        }
        // A step that the other properties show may lead on where the next instance has no tag.
        foreach (
            var step in matrix
                .Guesses.Values.SelectMany(g =>
                    g.Where(x => x.Face != TagFace.Description).GroupBy(x => x.Example).Select(r => r.MaxBy(x => x.Score)!)
                )
                .SelectMany(g => g.Pattern.Pieces.OfType<NumberPiece>())
                .SelectMany(p => p.Terms)
                .Select(t => t.Times)
                .Where(t => t > 1)
        )
            _rules.Hints.Add(step);
        foreach (
            var property in matrix.Properties.Where(p =>
                _rules.Hints.Count > 0
                && matrix.Guesses[p.Id].Where(g => g.Face == TagFace.Name).Select(g => g.Support).DefaultIfEmpty(1).Max() < 0.7
            )
        )
        {
            matrix.Guesses[property.Id].RemoveAll(g => !g.IsKept);
            LearnFrom(matrix, property);
        }
        _rules.Hints.Clear();
        FromShown(matrix);
        RuleComparison.Agree(matrix.Guesses.Values);
    }

    /// <summary>Properties that nobody has shown are called as those that were, but for their own words.</summary>
    private void FromShown(TemplateMatrix matrix)
    {
        var unshown = matrix.Properties.Where(p => matrix.Guesses[p.Id].Count == 0).ToDictionary(p => p.Id);
        if (unshown.Count == 0)
            return;
        var best = matrix
            .Guesses.Values.SelectMany(g =>
                g.Where(x => x is { Face: TagFace.Name, Example: not null } && !x.Pattern.NamesPart)
                    .GroupBy(x => x.Example)
                    .Select(r => r.MaxBy(x => x.Score)!)
            )
            .GroupBy(g => (g.Signature, g.Example!.Instance))
            .OrderByDescending(g => g.Count())
            .Take(MostWays);
        foreach (var shown in best)
        {
            var way = shown.First().Follows;
            _rules.Hints.UnionWith(
                shown
                    .SelectMany(g => g.Pattern.Pieces.OfType<NumberPiece>())
                    .SelectMany(p => p.Terms)
                    .Select(t => t.Times)
                    .Where(t => t > 1)
            );
            foreach (
                var (property, example) in _unshown.Find(matrix, [.. shown], [.. unshown.Keys], (id, position) =>
                    BindingRules.Misfit(model, unshown[id], lexicon.Tags[position]) is null
                )
            )
            {
                var guesses = _rules
                    .Guesses(TagFace.Name, example, [], matrix.Instances, FitOf(unshown[property]), [], supposed: true)
                    .Where(g => g.Follows == way)
                    .ToArray();
                // It stands beside the others, as if it had been shown where they were.
                foreach (var guess in guesses)
                    (guess.Example, guess.IsBeside) = (example with { Instance = shown.Key.Instance }, true);
                matrix.Guesses[property].AddRange(guesses);
                if (guesses.Length > 0)
                    unshown.Remove(property);
            }
            _rules.Hints.Clear();
        }
    }

    private void LearnFrom(TemplateMatrix matrix, ResolvedProperty property)
    {
        var examples = matrix.Examples[property.Id];
        foreach (var example in Spread(examples))
        {
            // What the best rules say already teaches nothing new; what they do not does, however alike it looks.
            if (
                matrix
                    .Guesses[property.Id]
                    .Where(g => !g.IsKept)
                    .GroupBy(g => (g.Face, g.Example))
                    .Select(r => r.MaxBy(g => g.Score)!)
                    .Any(g => g.Contradicted == 0 && g.Agreed > 0 && IsNamedBy(g, example))
            )
                continue;
            Example[] beside =
            [
                .. matrix.Examples.Where(e => e.Key != property.Id).SelectMany(e => e.Value).Where(e => e.Instance == example.Instance),
            ];
            foreach (var face in Enum.GetValues<TagFace>())
                matrix.Guesses[property.Id].AddRange(_rules.Guesses(face, example, examples, matrix.Instances, FitOf(property), beside));
        }
    }

    /// <summary>Examples from places as different as there are, those of different shapes and places first.</summary>
    private IEnumerable<Example> Spread(List<Example> examples) =>
        examples
            .GroupBy(e => (ShapeOf(e), e.Instance.Instance.ParentId))
            .SelectMany(g => g.Take(2).Select((e, i) => (Example: e, Turn: i)))
            .OrderBy(e => e.Turn)
            .Select(e => e.Example)
            .Take(MostTaught);

    private const int MostTaught = 10;

    private bool IsNamedBy(RuleGuess guess, Example example) => guess.Names(example.Instance, lexicon, example.Position, example.Slice);

    private string ShapeOf(Example example) =>
        $"{lexicon.Tags[example.Position].ControllerId} "
        + $"{string.Concat(lexicon.Tokens[(int)TagFace.Name][example.Position].Select(t => t.IsNumber ? "#" : t.Text))}";

    /// <summary>Where nothing is bound, tags whose words speak clearly of a property and of its instance are taken as if they were
    /// examples.</summary>
    private void Suppose(TemplateMatrix matrix, InstanceNames[] models)
    {
        var open = matrix.Properties.Where(p => matrix.Guesses[p.Id].Count == 0).ToArray();
        foreach (var instance in models)
        {
            var gains = new Dictionary<(int Row, int Position), double>();
            var near = places.Near(instance).Where(t => used.IsFree(t.Position, null)).ToArray();
            for (var row = 0; row < open.Length; row++)
            {
                if (model.Bindings.ContainsKey((instance.Instance.Id, open[row].Id)))
                    continue;
                foreach (
                    var (position, gain) in near.Select(n => (n.Position, Gain: n.Identity * matrix.Words.Match(open[row].Id, n.Words)))
                        .Where(g => g.Gain >= 0.35)
                        .OrderByDescending(g => g.Gain)
                        .Take(MostSupposed)
                )
                    if (BindingRules.Misfit(model, open[row], lexicon.Tags[position]) is null)
                        gains[(row, position)] = gain;
            }
            // A tag that is called as another is and then something more, as a test value is, is not what both say.
            foreach (var ((row, position), gain) in gains.ToArray())
                if (gains.Any(g => g.Key.Row == row && g.Value >= NearlyAsMuch * gain && Extends(position, g.Key.Position)))
                    gains.Remove((row, position));
            var columns = gains.Keys.Select(k => k.Position).Distinct().ToArray();
            var columnOf = columns.Select((p, i) => (p, i)).ToDictionary(c => c.p, c => c.i);
            var given = SparseAssignment.Solve(
                open.Length,
                columns.Length,
                [.. gains.Select(g => (g.Key.Row, columnOf[g.Key.Position], g.Value))]
            );
            var rowOf = given.Select((c, row) => (c, row)).Where(g => g.c >= 0).ToDictionary(g => g.c, g => g.row);
            for (var row = 0; row < open.Length; row++)
            {
                if (given[row] < 0)
                    continue;
                var position = columns[given[row]];
                var gain = gains[(row, position)];
                // What would be lost if the row took another tag, and what another row would gain from this one.
                var rival = 0.0;
                foreach (var ((otherRow, otherPosition), itsGain) in gains)
                {
                    if (otherRow == row && otherPosition != position)
                        rival = Math.Max(
                            rival,
                            itsGain
                                - (
                                    rowOf.TryGetValue(columnOf[otherPosition], out var owner)
                                        ? gains[(owner, otherPosition)] - gains.GetValueOrDefault((owner, position))
                                        : 0
                                )
                        );
                    else if (otherRow != row && otherPosition == position && given[otherRow] < 0)
                        rival = Math.Max(rival, itsGain);
                }
                if (
                    gain - rival < LeastLead
                    || gain < LeastGain
                    || counted.IsAtStep(position, instance.Instance)
                    || places.SpeaksAsWellOfAnother(instance, matrix.Instances, position)
                )
                    continue;
                var example = new Example(instance, position, null, 1);
                foreach (var face in Enum.GetValues<TagFace>())
                {
                    var guesses = _rules.Guesses(face, example, [], matrix.Instances, FitOf(open[row]), [], supposed: true);
                    foreach (var guess in guesses)
                        guess.Score *= gain;
                    matrix.Guesses[open[row].Id].AddRange(guesses);
                }
            }
        }
        RuleComparison.Agree([.. open.Select(p => matrix.Guesses[p.Id])]);
    }

    /// <summary>Whether a tag is called as another is, and then something more.</summary>
    private bool Extends(int position, int other)
    {
        var (its, shorter) = (lexicon.Tokens[(int)TagFace.Name][position], lexicon.Tokens[(int)TagFace.Name][other]);
        return its.Length > shorter.Length
            && lexicon.Tags[position].ControllerId == lexicon.Tags[other].ControllerId
            && NameToken.KeyOf(its.AsSpan(0, shorter.Length)) == NameToken.KeyOf(shorter);
    }

    private const double NearlyAsMuch = 0.8;

    /// <summary>Names and descriptions speak of the same tags: a rule for names that leads elsewhere than the descriptions do is not
    /// trusted, nor the other way round.</summary>
    private void Reconcile(TemplateMatrix matrix, ResolvedProperty property)
    {
        if (matrix.Best(property.Id, TagFace.Description) is not { Strength: >= StrongRule } described)
            return;
        foreach (var guess in matrix.Guesses[property.Id].Where(g => g.Face != TagFace.Description && !g.IsKept))
        {
            // What describes another way of naming says nothing of this one.
            if (guess.Example is { } its && its != described.Example && !IsNamedBy(described, its))
                continue;
            var (same, other) = (0, 0);
            foreach (var instance in InstanceSample.Of(null, matrix.Instances))
            {
                var (one, two) = (FreeTagsOf(guess, instance), FreeTagsOf(described, instance));
                if (one.Length == 0 || two.Length == 0)
                    continue;
                if (one.Intersect(two).Any())
                    same++;
                else
                    other++;
            }
            if (same + other < 3 || same >= other)
                continue;
            if (guess.Prior > described.Prior * 1.1)
                described.Trust *= 0.3;
            else
                guess.Trust *= 0.2;
        }
    }

    private int[] FreeTagsOf(RuleGuess guess, InstanceNames instance)
    {
        var key = new KeyWriter(stackalloc char[256]);
        guess.Write(instance, ref key, out var whole);
        return whole
            ?
            [
                .. lexicon
                    .With(guess.Face, key.Key)
                    .Where(p =>
                        used.IsFree(p, guess.Pattern.SliceFor(instance))
                        && _controllers?.IsOthers(instance, lexicon.Tags[p].ControllerId) != true
                    ),
            ]
            : [];
    }

    /// <summary>Keeps which cell each description would speak of, by the rules descriptions follow.</summary>
    private void Describe(TemplateMatrix matrix)
    {
        Span<char> room = stackalloc char[256];
        foreach (var property in matrix.Properties)
        {
            if (matrix.Best(property.Id, TagFace.Description) is not { IsSupposed: false, Strength: >= StrongRule } rule)
                continue;
            foreach (var instance in matrix.Instances)
            {
                var key = new KeyWriter(room);
                rule.Write(instance, ref key, out var whole);
                if (whole)
                    matrix.Described.TryAdd(key.ToString(), (instance.Instance.Id, property.Id));
            }
        }
    }
}
