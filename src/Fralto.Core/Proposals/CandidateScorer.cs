using System.Globalization;
using Fralto.Core.Controllers;
using Fralto.Core.NamingRules;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Proposals;

/// <summary>Weighs what speaks for and against a tag, part by part, in natural log-odds.</summary>
/// <remarks>The weights are ours, set on generated plants of many naming styles; docs/performance.md says how well they do.</remarks>
internal sealed class CandidateScorer(
    PlantModel model,
    TagLexicon lexicon,
    PlantNames nodes,
    TagsInUse used,
    SpokenPlaces places,
    CandidateValues values
)
{
    private const double Doubt = -3;
    private const double Usual = 0.5;
    private const double SameBeside = 2.6;

    /// <summary>A tag whose texts speak of an instance, and of no other, is that instance's.</summary>
    private const double Spoken = 5;
    private const double NameRule = 6.5;
    private const double DescriptionRule = 4.5;
    private const double AddressRule = 3;
    private const double WeightBeside = 0.85;
    private const double Strong = 0.6;

    private readonly NamesBeside _beside = new(lexicon, places);
    private readonly Dictionary<(long, long), HashSet<string>> _fixed = [];
    private readonly Dictionary<(RuleGuess Rule, Example Example), bool> _speaksFor = [];

    public void Weigh(OpenCell cell, Candidate candidate)
    {
        var tag = lexicon.Tags[candidate.Position];
        candidate.Odds = Doubt;
        Rules(cell, candidate, tag);
        if (BindingRules.Misfit(model, cell.Property, tag, candidate.Slice) is { } misfit)
        {
            candidate.IsMisfit = true;
            candidate.Against = misfit;
            candidate.Add(model.Units.Find(tag.Unit) is null ? ScorePartKind.Type : ScorePartKind.Unit, -6, misfit);
            return;
        }
        Words(cell, candidate);
        Units(cell, candidate, tag);
        Type(cell, candidate, tag);
        values.Weigh(cell, candidate);
        candidate.IsUnproven =
            cell.Matrix.Examples[cell.Property.Id].Count == 0 && !candidate.By.Any(g => g is { IsKept: true } or { IsBeside: true });
    }

    private void Rules(OpenCell cell, Candidate candidate, Tag tag)
    {
        var named = 0.0;
        foreach (
            var (face, weight) in new[] { (TagFace.Name, NameRule), (TagFace.Description, DescriptionRule), (TagFace.Address, AddressRule) }
        )
        {
            if (candidate.By[(int)face] is not { } rule)
                continue;
            var strength = rule.StrengthFor(cell.Instance);
            if (face == TagFace.Name)
                named = strength;
            var share =
                rule.IsBeside ? WeightBeside
                : rule.IsSupposed ? 0.62
                : 1;
            // An address that says what the name says adds little to it.
            if (face == TagFace.Address && named > Strong)
                share *= 0.2;
            candidate.Identify(weight * strength * share);
            candidate.Add(
                face == TagFace.Description ? ScorePartKind.Description : ScorePartKind.Rule,
                weight * strength * share,
                $"{face.ToString().ToLowerInvariant()} as {rule.Pattern}"
                    + (
                        rule.IsKept ? ", a rule that was kept"
                        : rule.IsBeside ? $", as what is bound beside it but for its own words, on {rule.Hits} of {rule.Of} others"
                        : rule.IsSupposed ? $", as on {rule.Hits} of {rule.Of} others"
                        : rule.Of > 0 ? $", found on {rule.Hits} of {rule.Of} others{AllThereIs(rule)}"
                        : ""
                    )
            );
        }
        Contradictions(cell, candidate, tag);
    }

    /// <summary>Why a rule for names that finds few is believed.</summary>
    private static string AllThereIs(RuleGuess rule) =>
        rule is { Face: TagFace.Name, NamesAll: true } && rule.Hits < rule.Of ? ", and no other free tag is called so" : "";

    /// <summary>What the texts say of another cell, and what the rules name instead.</summary>
    private void Contradictions(OpenCell cell, Candidate candidate, Tag tag)
    {
        // Where one is named as an example is that a rule does not speak for, that rule says nothing against it: there are two ways.
        var shape = WaysOf(cell).Length > 0 ? ShapeOf(candidate.Position) : "";
        Example[] ways =
        [
            .. candidate.By.OfType<RuleGuess>().Where(g => !g.IsSupposed).Select(g => g.Example).OfType<Example>(),
            .. WaysOf(cell)
                .Where(w => w.Shape == shape || candidate.By.Any(g => g is { IsSupposed: false } && SpeaksFor(g, w.Example)))
                .Select(w => w.Example),
        ];
        var rules = cell.Matrix.Guesses[cell.Property.Id].Where(g => !ways.Any(e => !SpeaksFor(g, e))).ToArray();
        if (
            candidate.By[(int)TagFace.Description] is null
            && lexicon.Tokens[(int)TagFace.Description][candidate.Position] is { Length: > 0 } description
            && rules
                .Where(g => g is { Face: TagFace.Description, IsSupposed: false } && g.StrengthFor(cell.Instance) >= Strong)
                .MaxBy(g => g.Strength)
                is { } described
        )
        {
            if (cell.Matrix.Described.TryGetValue(NameToken.KeyOf(description), out var other))
                candidate.Contradict(
                    ScorePartKind.Description,
                    -5,
                    $"its description, \"{tag.Description}\", is that of {model.Equipment[other.EquipmentId].Name} "
                        + $"{cell.Matrix.Properties.First(p => p.Id == other.PropertyId).Name}."
                );
            else if (described.Pattern.TextFor(cell.Instance) is { } expected && !SaysItAll(cell, candidate.Position))
                candidate.Contradict(
                    ScorePartKind.Description,
                    Alike(expected, description) < 0.5 ? -3.2 : -2.5,
                    $"its description, \"{tag.Description}\", is not what the others lead to expect: \"{expected}\"."
                );
        }
        // Where there is a tag for every number, one that is only counted to and is not described as those of the others are may be
        // anybody's.
        if (
            candidate.By[(int)TagFace.Name] is { IsSupposed: false, Described: >= MostlyDescribed } counted
            && !counted.Pattern.FollowsName
            && lexicon.Tokens[(int)TagFace.Description][candidate.Position].Length == 0
            && rules.Any(g => g is { Face: TagFace.Description, IsSupposed: false } && g.StrengthFor(cell.Instance) >= Strong)
        )
            candidate.Contradict(ScorePartKind.Description, Undescribed, "it has no description, where those of the others have one.");
        if (
            candidate.By[(int)TagFace.Name] is null
            && rules.Where(g => g.Face == TagFace.Name && g.StrengthFor(cell.Instance) >= Strong).MaxBy(g => g.StrengthFor(cell.Instance))
                is { } named
        )
        {
            // What is only counted to, and is described as something else, takes nothing from a tag that is described as the others are.
            bool IsThere(string name) =>
                lexicon
                    .With(TagFace.Name, NameToken.KeyOf(name))
                    .Any(p =>
                        used.IsFree(p, named.Pattern.SliceFor(cell.Instance))
                        && !(!named.Pattern.IsSaid && IsDescribedOtherwise(p) && IsDescribed())
                    );
            bool IsDescribedOtherwise(int p) =>
                lexicon.Tokens[(int)TagFace.Description][p] is { Length: > 0 } its
                && NameToken.KeyOf(its) != NameToken.KeyOf(lexicon.Tokens[(int)TagFace.Description][candidate.Position]);
            bool IsDescribed() =>
                (candidate.By[(int)TagFace.Description] is { IsSupposed: false } its && its.StrengthFor(cell.Instance) >= Strong)
                || SaysItAll(cell, candidate.Position);
            // Where nothing of a place is called as elsewhere, what is missing there says nothing; nor does it against a tag that is
            // described as the others are, or by all it takes.
            if (
                named.Pattern.TextFor(cell.Instance) is { } expected
                && (IsThere(expected) || (named.ShareNear(cell.Instance) >= Usual && !IsDescribed()))
            )
                candidate.Contradict(
                    ScorePartKind.Rule,
                    (named.IsSupposed ? -2 : -3.5) * Math.Min(1, 1.2 * named.Prior),
                    $"the names of the others lead to expect {expected}."
                );
        }
    }

    /// <summary>Whether a tag's description names the instance and says what the property is called and nothing beside, in whatever order
    /// and language.</summary>
    public bool SaysItAll(OpenCell cell, int position) =>
        places.DescriptionBeside(cell.Instance, position) is { } said
        && cell.Matrix.Words.IsAllSaid(cell.Property.Id, said, cell.Matrix.Template.Name);

    /// <summary>Examples of a property that are called differently or stand in different places, with what each looks like.</summary>
    private (string Shape, Example Example)[] WaysOf(OpenCell cell)
    {
        if (_waysOf.TryGetValue((cell.Matrix, cell.Property.Id), out var known))
            return known;
        return _waysOf[(cell.Matrix, cell.Property.Id)] = [
            .. cell
                .Matrix.Examples[cell.Property.Id]
                .Select(e => (Shape: ShapeOf(e.Position), Example: e))
                .GroupBy(w => (w.Shape, w.Example.Instance.Instance.ParentId))
                .SelectMany(g => g.Take(2))
                .Take(MostWays),
        ];
    }

    private const int MostWays = 20;
    private readonly Dictionary<(TemplateMatrix, long), (string Shape, Example Example)[]> _waysOf = [];

    /// <summary>What a name looks like, whatever its numbers and single letters are.</summary>
    private string ShapeOf(int position) =>
        string.Join(
            ' ',
            lexicon
                .Tokens[(int)TagFace.Name][position]
                .Select(t =>
                    t.IsNumber ? "#"
                    : t.IsLetter ? "@"
                    : t.Text
                )
        );

    /// <summary>True when an example is named as a rule names it.</summary>
    private bool SpeaksFor(RuleGuess rule, Example example)
    {
        if (_speaksFor.TryGetValue((rule, example), out var known))
            return known;
        return _speaksFor[(rule, example)] =
            rule.Pattern.TextFor(example.Instance) is { } said
            && NameToken.KeyOf(said) == NameToken.KeyOf(lexicon.Tokens[(int)rule.Face][example.Position]);
    }

    private const double Appended = -3;
    private const double Undescribed = -2.5;
    private const double MostlyDescribed = 0.5;

    private void Words(OpenCell cell, Candidate candidate)
    {
        var (identity, words) = places.Identify(cell.Instance, candidate.Position);
        var match = cell.Matrix.Words.Match(cell.Property.Id, words);
        var byRule = candidate.By.Any(g => g is { IsSupposed: false } && g.StrengthFor(cell.Instance) >= Strong);
        var sameText = cell
            .Matrix.Examples[cell.Property.Id]
            .Any(e =>
                e.Position != candidate.Position
                && lexicon.Tags[e.Position].Description is { Length: > 0 } said
                && said == lexicon.Tags[candidate.Position].Description
            );
        var alike = sameText || SaysTheSame(cell, candidate.Position);
        if (match >= 0.3)
            candidate.Add(ScorePartKind.Words, byRule ? match : 2.1 * match, $"its words say {Share(match)} of \"{cell.Property.Name}\"");
        if (!byRule && !alike)
        {
            var other = cell
                .Matrix.Properties.Where(p => p.Id != cell.Property.Id)
                .Select(p => (Property: p, Match: cell.Matrix.Words.Match(p.Id, words)))
                .DefaultIfEmpty()
                .MaxBy(m => m.Match);
            if (other.Property is not null && other.Match - match > 0.15 && other.Match > 0.5)
                candidate.Contradict(ScorePartKind.Words, -2 * (other.Match - match) - 1, $"its words rather say {other.Property.Name}.");
        }
        // What says nothing of the property, and stands behind whole names, makes another thing of what is called so.
        if (
            !byRule
            && !alike
            && lexicon.Appended(candidate.Position) is { } end
            && cell.Matrix.Words.Match(cell.Property.Id, [.. words.SkipLast(1)]) >= match
        )
        {
            candidate.IsAppended = true;
            candidate.Contradict(ScorePartKind.Words, Appended, $"{end.ToUpperInvariant()} is what others have behind their whole names.");
        }
        if (!byRule && SaysTheSame(cell, candidate.Position))
        {
            // What is left of the name is left beside what the instance is called.
            candidate.Identify(SameBeside);
            candidate.Add(
                ScorePartKind.Rule,
                SameBeside,
                $"called {places.Rest(cell.Instance, candidate.Position)} beside its instance, as the others"
            );
        }
        if (!byRule && sameText)
            candidate.Add(ScorePartKind.Description, 1.4, "its description is that of the others");
        // The names a rule gives may well be those of other equipment too; but where its example speaks of its own place, this one should
        // not speak of another kind.
        var strays = !byRule
            ? identity == 0
            : candidate.By[(int)TagFace.Name]?.Example is { } example && places.SpeaksOf(example.Position, example.Instance) is null;
        if (
            strays
            && places.SpeaksOf(candidate.Position, cell.Instance) is { } elsewhere
            && (
                !byRule
                || (elsewhere.TemplateId is { } kind && cell.Instance.Lineage.All(e => e.TemplateId != kind))
                || (
                    candidate.By[(int)TagFace.Name] is { Example: { } said } counted
                    && !counted.Pattern.FollowsName
                    && !counted.ExplainsAll
                    && places.IsCalled(said.Position, said.Instance.Instance)
                )
            )
        )
        {
            candidate.IsElsewhere = true;
            candidate.Contradict(ScorePartKind.Place, byRule ? -4 : -2.5, $"it speaks of {elsewhere.Name}.");
        }
        if (
            places.PlaceElsewhere(candidate.Position, cell.Instance) is { } away
            // A number that a rule says is the instance's own is not that of a place.
            && !(byRule && nodes.Of(away).Number is { } its && its == nodes.Of(cell.Instance.Instance).Number)
            && ShownBy(cell, candidate) is var shown
            && (shown is null || places.PlaceElsewhere(shown.Position, shown.Instance) is null)
        )
        {
            candidate.IsElsewhere = true;
            candidate.Contradict(ScorePartKind.Place, -5, $"it speaks of {away.Name}.");
        }
        candidate.Identify(Spoken * identity);
        if (identity > 0)
            candidate.Add(
                ScorePartKind.Place,
                (byRule ? 0.5 : 2.3) * identity,
                identity > 0.8 ? $"it speaks of {cell.Instance.Instance.Name}" : $"it may speak of {cell.Instance.Instance.Name}"
            );
    }

    /// <summary>The example somebody has bound that stands behind a candidate; null where there is none.</summary>
    private static Example? ShownBy(OpenCell cell, Candidate candidate) =>
        (candidate.By[(int)TagFace.Name] is { IsSupposed: false } rule ? rule.Example : null)
        ?? cell.Matrix.Examples[cell.Property.Id].FirstOrDefault();

    /// <summary>The longest fixed part of each rule for a property: what its tags are called, whatever the instance is called.</summary>
    private HashSet<string> Fixed(OpenCell cell)
    {
        if (_fixed.TryGetValue((cell.Matrix.Template.Id, cell.Property.Id), out var known))
            return known;
        return _fixed[(cell.Matrix.Template.Id, cell.Property.Id)] = [
            .. cell
                .Matrix.Guesses[cell.Property.Id]
                .Where(g => g is { Face: TagFace.Name, IsSupposed: false } && g.Strength > 0.5)
                .Select(g => g.Pattern.Pieces.OfType<FixedPiece>().Select(p => NameToken.KeyOf(p.Text)).MaxBy(k => k.Length))
                .OfType<string>()
                .Where(k => k.Length > 0),
        ];
    }

    /// <summary>True when a tag's name says beside the instance what the names of the others say.</summary>
    public bool SaysTheSame(OpenCell cell, int position) =>
        cell.Matrix.Examples[cell.Property.Id].All(e => e.Position != position)
        && (
            (Fixed(cell) is { Count: > 0 } usual && usual.Contains(places.Rest(cell.Instance, position)))
            || _beside.SaysTheSame(cell, position)
        );

    private static string Share(double match) =>
        match > 0.9 ? "all"
        : match > 0.6 ? "most"
        : "some";

    private void Units(OpenCell cell, Candidate candidate, Tag tag)
    {
        var facts = cell.Property.Facts;
        if (model.Units.Find(tag.Unit) is { } given && model.Units.Find(facts.Unit) is { } wanted)
            candidate.Add(
                ScorePartKind.Unit,
                given.Code == wanted.Code ? 0.8 : 0.5,
                given.Code == wanted.Code ? $"both in {given.Symbol}" : $"{given.Symbol} becomes {wanted.Symbol}"
            );
        if (
            tag.Range is not { IsUsable: true } range
            || model.RangeOf(facts) is not { IsUsable: true } own
            || (model.ScaleOf(facts) is not null && tag.Unit is null)
        )
            return;
        var conversion = model.Units.Between(tag.Unit, facts.Unit) ?? UnitConversion.None;
        var its = new Span(conversion.Of(range.Low), conversion.Of(range.High));
        var overlap =
            Math.Max(0, Math.Min(own.Maximum, its.Maximum) - Math.Max(own.Minimum, its.Minimum))
            / Math.Max(1e-12, Math.Min(own.Maximum - own.Minimum, its.Maximum - its.Minimum));
        candidate.Add(
            ScorePartKind.Range,
            overlap > 0.5 ? 0.4 : -2,
            overlap > 0.5
                ? "its documented range fits"
                : string.Create(CultureInfo.InvariantCulture, $"its documented range, {its.Low:0.###} to {its.High:0.###}, lies elsewhere")
        );
    }

    private void Type(OpenCell cell, Candidate candidate, Tag tag)
    {
        var examples = cell.Matrix.Examples[cell.Property.Id];
        if (examples.Count > 0)
        {
            if (candidate.Slice is null && examples.All(e => e.Slice is not null))
                candidate.Contradict(ScorePartKind.Type, -3, $"the others are bound to a part of their tags, {examples[0].Slice}.");
            var their = lexicon.Tags[examples[0].Position];
            if (examples.Any(e => lexicon.Tags[e.Position].Type == tag.Type))
                candidate.Add(ScorePartKind.Type, 0.3, $"{tag.TypeText}, as the others");
            else if (examples.Any(e => ClassOf(lexicon.Tags[e.Position].Type) == ClassOf(tag.Type)))
                candidate.Add(ScorePartKind.Type, -0.7, $"{tag.TypeText}, where the others are {their.TypeText}");
            else
                candidate.Contradict(ScorePartKind.Type, -2.8, $"it is {tag.TypeText}, where the others are {their.TypeText}.");
            return;
        }
        if (
            candidate.By[(int)TagFace.Name] is { IsSupposed: true, Example: { } supposed, Hits: > 2 }
            && ClassOf(lexicon.Tags[supposed.Position].Type) != ClassOf(tag.Type)
        )
            candidate.Contradict(
                ScorePartKind.Type,
                -2.8,
                $"it is {tag.TypeText}, where others named like it are {lexicon.Tags[supposed.Position].TypeText}."
            );
        var isBit = tag.Type == RawType.Bool || candidate.Slice is { IsBit: true };
        var type = cell.Property.Declaration.Type;
        var apt = type switch
        {
            PropertyType.Boolean => isBit,
            PropertyType.State => !tag.Type.IsFloat(),
            PropertyType.Number => !isBit,
            _ => true,
        };
        if (apt)
            candidate.Add(ScorePartKind.Type, 0.2, $"{tag.TypeText} suits {type.Words()}");
        else
            // It may be so, but somebody has to show it.
            candidate.Contradict(ScorePartKind.Type, -0.7, $"{tag.TypeText} seldom is {type.Words()}.");
    }

    private static int ClassOf(RawType type) =>
        type.IsFloat() ? 2
        : type == RawType.Bool ? 0
        : type == RawType.Text ? 3
        : 1;

    /// <summary>How alike two texts are in their words and numbers: what they share of what they have together.</summary>
    private static double Alike(string text, NameToken[] tokens)
    {
        var one = NameToken.Of(text).Select(t => t.IsNumber ? t.Number.ToString(CultureInfo.InvariantCulture) : t.Text).ToHashSet();
        var other = tokens.Select(t => t.IsNumber ? t.Number.ToString(CultureInfo.InvariantCulture) : t.Text).ToHashSet();
        return (double)one.Intersect(other).Count() / Math.Max(1, one.Union(other).Count());
    }
}
