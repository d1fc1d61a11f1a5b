using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
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
internal sealed class CandidateScorer(ProposalQuestion question, TagLexicon lexicon, PlantNames nodes, TagsInUse used)
{
    private const double Doubt = -3;
    private const double Usual = 0.5;
    private const double SameBeside = 2.6;

    /// <summary>A tag whose texts speak of an instance, and of no other, is that instance's.</summary>
    private const double Spoken = 5;
    private const double NameRule = 6.5;
    private const double DescriptionRule = 4.5;
    private const double AddressRule = 3;
    private const double Strong = 0.6;
    private const double FarOutside = 0.25;

    private const double ByValue = -2.5;

    /// <summary>Share of a range below which no arithmetic on 32-bit floats of its size ends by itself: their own step is 1e-7 of it (IEEE
    /// 754, binary32).</summary>
    private const double Nothing = 1e-15;

    /// <summary>Ranges no instrument has beside what it cannot tell from 0.</summary>
    private const double Everything = 1e9;

    private const int MostParts = 20;

    private readonly PlantModel _model = question.Model;
    private readonly Dictionary<long, Dictionary<int, (int Position, double Identity, TagWord[] Words)>> _near = [];
    private readonly Dictionary<int, TagWord[][]> _words = [];
    private readonly Dictionary<(long, long), HashSet<string>> _fixed = [];
    private readonly Dictionary<(RuleGuess Rule, Example Example), bool> _speaksFor = [];
    private readonly Dictionary<long, HashSet<long>> _calledLike = [];

    /// <summary>Looks for the tags whose texts speak of some instances; once for each.</summary>
    public void Look(IEnumerable<InstanceNames> instances)
    {
        var wanted = instances.DistinctBy(i => i.Instance.Id).Where(i => !_near.ContainsKey(i.Instance.Id)).ToArray();
        if (wanted.Length == 0)
            return;
        var marked = lexicon.Marked(wanted.SelectMany(i => i.Lineage.TakeLast(3)).DistinctBy(e => e.Id).SelectMany(e => nodes.Of(e).Marks));
        foreach (var instance in wanted)
        {
            var near = _near[instance.Instance.Id] = [];
            var anchors = instance
                .Lineage.Reverse()
                .Take(3)
                .FirstOrDefault(e => nodes.Of(e).Number is not null || nodes.Of(e).Marks.Any(m => nodes.Called(m).Count == 1))
                ?? instance.Instance;
            foreach (var position in nodes.Of(anchors).Marks.SelectMany(m => marked[m]).Distinct())
                if (Identity(instance, position) is > 0.3 and var identity)
                    near[position] = (position, identity, WordsBeside(instance, position));
        }
    }

    /// <summary>The tags whose texts speak of an instance, with how clearly they do and their other words.</summary>
    public IReadOnlyCollection<(int Position, double Identity, TagWord[] Words)> Near(InstanceNames instance) =>
        _near.TryGetValue(instance.Instance.Id, out var near) ? near.Values : [];

    public void Weigh(OpenCell cell, Candidate candidate)
    {
        var tag = lexicon.Tags[candidate.Position];
        candidate.Odds = Doubt;
        Rules(cell, candidate, tag);
        if (BindingRules.Misfit(_model, cell.Property, tag, candidate.Slice) is { } misfit)
        {
            candidate.IsMisfit = true;
            candidate.Against = misfit;
            candidate.Add(_model.Units.Find(tag.Unit) is null ? ScorePartKind.Type : ScorePartKind.Unit, -6, misfit);
            return;
        }
        Words(cell, candidate);
        Units(cell, candidate, tag);
        Type(cell, candidate, tag);
        Value(cell, candidate);
        candidate.IsUnproven = cell.Matrix.Examples[cell.Property.Id].Count == 0 && !candidate.By.Any(g => g is { IsKept: true });
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
            var share = rule.IsSupposed ? 0.62 : 1;
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
                        : rule.IsSupposed ? $", as on {rule.Hits} of {rule.Of} others"
                        : rule.Of > 0 ? $", found on {rule.Hits} of {rule.Of} others"
                        : ""
                    )
            );
        }
        Contradictions(cell, candidate, tag);
    }

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
                    $"its description, \"{tag.Description}\", is that of {_model.Equipment[other.EquipmentId].Name} "
                        + $"{cell.Matrix.Properties.First(p => p.Id == other.PropertyId).Name}."
                );
            else if (described.Pattern.TextFor(cell.Instance) is { } expected && !SaysItAll(cell, candidate.Position))
                candidate.Contradict(
                    ScorePartKind.Description,
                    Alike(expected, description) < 0.5 ? -3.2 : -2.5,
                    $"its description, \"{tag.Description}\", is not what the others lead to expect: \"{expected}\"."
                );
        }
        if (
            candidate.By[(int)TagFace.Name] is null
            && rules.Where(g => g.Face == TagFace.Name && g.StrengthFor(cell.Instance) >= Strong).MaxBy(g => g.StrengthFor(cell.Instance))
                is { } named
        )
        {
            bool IsThere(string name) =>
                lexicon.With(TagFace.Name, NameToken.KeyOf(name)).Any(p => used.IsFree(p, named.Pattern.SliceFor(cell.Instance)));
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
    public bool SaysItAll(OpenCell cell, int position)
    {
        const int Description = (int)TagFace.Description;
        var (words, isNamed) = (TagWords(position)[Description], false);
        var left = Enumerable.Repeat(true, words.Length).ToArray();
        foreach (var node in cell.Instance.Lineage)
        foreach (var mark in nodes.Of(node).Marks)
            lexicon.Where(position, mark, (face, from, count) =>
            {
                if (face != Description)
                    return;
                Array.Fill(left, false, from, count);
                isNamed |= node == cell.Instance.Instance;
            });
        return isNamed && cell.Matrix.Words.IsAllSaid(cell.Property.Id, [.. words.Where((_, i) => left[i])], cell.Matrix.Template.Name);
    }

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

    private void Words(OpenCell cell, Candidate candidate)
    {
        var (identity, words) = Identify(cell.Instance, candidate.Position);
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
        if (!byRule && SaysTheSame(cell, candidate.Position))
        {
            // What is left of the name is left beside what the instance is called.
            candidate.Identify(SameBeside);
            candidate.Add(
                ScorePartKind.Rule,
                SameBeside,
                $"called {Rest(cell.Instance, candidate.Position)} beside its instance, as the others"
            );
        }
        if (!byRule && sameText)
            candidate.Add(ScorePartKind.Description, 1.4, "its description is that of the others");
        // The names a rule gives may well be those of other equipment too; but where its example speaks of its own place, this one should
        // not speak of another kind.
        var strays = !byRule
            ? identity == 0
            : candidate.By[(int)TagFace.Name]?.Example is { } example && SpeaksOf(example.Position, example.Instance) is null;
        if (
            strays
            && SpeaksOf(candidate.Position, cell.Instance) is { } elsewhere
            && (
                !byRule
                || (elsewhere.TemplateId is { } kind && cell.Instance.Lineage.All(e => e.TemplateId != kind))
                || (
                    candidate.By[(int)TagFace.Name] is { Example: { } said } counted
                    && !counted.Pattern.FollowsName
                    && IsCalled(said.Position, said.Instance.Instance)
                )
            )
        )
        {
            candidate.IsElsewhere = true;
            candidate.Contradict(ScorePartKind.Place, byRule ? -4 : -2.5, $"it speaks of {elsewhere.Name}.");
        }
        if (
            PlaceElsewhere(candidate.Position, cell.Instance) is { } away
            // A number that a rule says is the instance's own is not that of a place.
            && !(byRule && nodes.Of(away).Number is { } its && its == nodes.Of(cell.Instance.Instance).Number)
            && (candidate.By[(int)TagFace.Name]?.Example ?? cell.Matrix.Examples[cell.Property.Id].FirstOrDefault()) is var shown
            && (shown is null || PlaceElsewhere(shown.Position, shown.Instance) is null)
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

    /// <summary>The key of a tag's name without what names the instance and the places above it.</summary>
    public string Rest(InstanceNames instance, int position)
    {
        var tokens = lexicon.Tokens[(int)TagFace.Name][position];
        var left = Enumerable.Repeat(true, tokens.Length).ToArray();
        foreach (var mark in instance.Lineage.SelectMany(e => nodes.Of(e).Marks))
            lexicon.Where(position, mark, (face, from, count) =>
            {
                if (face == (int)TagFace.Name)
                    Array.Fill(left, false, from, count);
            });
        return NameToken.KeyOf([.. tokens.Where((_, i) => left[i])]);
    }

    /// <summary>True when a tag's name says beside the instance what the names of the others say.</summary>
    public bool SaysTheSame(OpenCell cell, int position) =>
        cell.Matrix.Examples[cell.Property.Id].All(e => e.Position != position)
        && Fixed(cell) is { Count: > 0 } usual
        && usual.Contains(Rest(cell.Instance, position));

    /// <summary>A node elsewhere, called by a name with a number, that a tag's name speaks of; null for none, or when the instance's own
    /// places are spoken of.</summary>
    private Equipment? SpeaksOf(int position, InstanceNames instance)
    {
        var (tokens, found) = (lexicon.Tokens[(int)TagFace.Name][position], (Equipment?)null);
        Span<char> room = stackalloc char[256];
        for (var from = 0; from < tokens.Length; from++)
        {
            var key = new KeyWriter(room);
            var numbered = false;
            for (var to = from; to < tokens.Length && to < from + 3; to++)
            {
                key.Say(tokens[to]);
                numbered |= tokens[to].IsNumber;
                if (!numbered || nodes.Called(key.Key) is not { Count: > 0 } called)
                    continue;
                if (called.Any(instance.Lineage.Contains))
                    return null;
                found ??= called[0];
            }
        }
        return found;
    }

    /// <summary>True when a tag's name holds what the node is called, letters and number.</summary>
    private bool IsCalled(int position, Equipment node) =>
        nodes.Of(node).Marks.Any(m => m.Any(char.IsLetter) && m.Any(char.IsAsciiDigit) && lexicon.Holds(position, m));

    /// <summary>A place beside one of an instance's own that a tag's texts name by its code or name, where they do not name its own; null
    /// for none.</summary>
    private Equipment? PlaceElsewhere(int position, InstanceNames instance)
    {
        if (_elsewhere.TryGetValue((position, instance.Instance.ParentId), out var known))
            return known;
        var found = new List<Equipment>();
        var own = new HashSet<EquipmentLevel>();
        Span<char> room = stackalloc char[256];
        for (var face = 0; face < (int)TagFace.Address; face++)
        {
            var tokens = lexicon.Tokens[face][position];
            for (var from = 0; from < tokens.Length; from++)
            {
                var key = new KeyWriter(room);
                for (var to = from; to < tokens.Length && to < from + 3; to++)
                {
                    key.Say(tokens[to]);
                    // A letter and a digit are as telling as three letters.
                    if (
                        key.Key.Length < ShortestPlace - (to > from && !tokens[from].IsNumber ? 1 : 0)
                        || nodes.Called(key.Key) is not { Count: > 0 } called
                    )
                        continue;
                    foreach (var node in called.Where(n => n.TemplateId is null))
                        if (instance.Lineage.Contains(node))
                            own.Add(node.Level);
                        else
                            found.Add(node);
                }
            }
        }
        return _elsewhere[(position, instance.Instance.ParentId)] = found.FirstOrDefault(n =>
            !own.Contains(n.Level) && instance.Lineage.Any(e => e.Level == n.Level && e.TemplateId is null)
        );
    }

    private const int ShortestPlace = 3;
    private readonly Dictionary<(int, long?), Equipment?> _elsewhere = [];

    private static string Share(double match) =>
        match > 0.9 ? "all"
        : match > 0.6 ? "most"
        : "some";

    private void Units(OpenCell cell, Candidate candidate, Tag tag)
    {
        var facts = cell.Property.Facts;
        if (_model.Units.Find(tag.Unit) is { } given && _model.Units.Find(facts.Unit) is { } wanted)
            candidate.Add(
                ScorePartKind.Unit,
                given.Code == wanted.Code ? 0.8 : 0.5,
                given.Code == wanted.Code ? $"both in {given.Symbol}" : $"{given.Symbol} becomes {wanted.Symbol}"
            );
        if (
            tag.Range is not { IsUsable: true } range
            || _model.RangeOf(facts) is not { IsUsable: true } own
            || (_model.ScaleOf(facts) is not null && tag.Unit is null)
        )
            return;
        var conversion = _model.Units.Between(tag.Unit, facts.Unit) ?? UnitConversion.None;
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

    private void Value(OpenCell cell, Candidate candidate)
    {
        var facts = cell.Property.Facts;
        // What has been seen stays seen, whether or not there is a value now.
        if (
            cell.Property.Declaration.Type == PropertyType.Number
            && _model.RangeOf(facts) is { IsUsable: true } own
            && TornApart(lexicon.Tags[candidate.Position], own) is { } sizes
        )
        {
            Refute(
                candidate,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"it has been {sizes.Least:0.#E+0} and {sizes.Most:0.#E+0}; its words may be read in the wrong order."
                )
            );
            return;
        }
        if (ValueOf(cell, candidate) is not { } value)
            return;
        var symbol = _model.Units.SymbolOf(facts.Unit);
        if (cell.Property.Declaration.Type == PropertyType.State)
        {
            bool IsState(double held) => facts.StateListId is not { } set || _model.StateLists[set].States.Any(s => s.Value == held);
            var said = string.Create(CultureInfo.InvariantCulture, $"now {value:0.###}");
            if (IsState(value))
                candidate.Add(ScorePartKind.Value, 0.3, $"{said}, which is one of its states");
            else if (
                cell.Matrix.Examples[cell.Property.Id].Any(e => ValueOf(cell.Property, e.Position, e.Slice) is { } its && !IsState(its))
            )
                candidate.Add(ScorePartKind.Value, -0.3, $"{said}, which is none of its states, as what is bound");
            else
                Refute(candidate, $"{said}, which is none of its states.");
            return;
        }
        if (_model.RangeOf(facts) is not { IsUsable: true } range)
            return;
        var words = string.Create(CultureInfo.InvariantCulture, $"now {value:0.###} {symbol}").TrimEnd();
        if (IsTooSmall(lexicon.Tags[candidate.Position], range, value))
            Refute(
                candidate,
                $"{value.ToString("0.#E+0", CultureInfo.InvariantCulture)} {symbol}, smaller than any instrument tells from 0; its "
                    + $"words may be read in the wrong order."
            );
        else if (range.Contains(value))
            candidate.Add(ScorePartKind.Value, 0.4, $"{words}, inside the range");
        else if (Outside(range, value) > FarOutside)
        {
            // A plant that stands still says little by its values.
            var far = string.Create(CultureInfo.InvariantCulture, $"{words}, far outside {range.Low:0.###} to {range.High:0.###}");
            if (
                cell
                    .Matrix.Examples[cell.Property.Id]
                    .Any(e => ValueOf(cell.Property, e.Position, e.Slice) is { } its && Outside(range, its) > FarOutside)
            )
                candidate.Add(ScorePartKind.Value, -0.3, $"{far}, as what is bound");
            else if (question.Raw!(lexicon.Tags[candidate.Position]) == 0)
                candidate.Add(ScorePartKind.Value, -0.8, $"{far}, but a raw value of 0 may be rest");
            else
                Refute(candidate, $"{far}.");
        }
    }

    /// <summary>A float of several words that is not 0 and yet nothing beside its range: what stands first in it is not its
    /// exponent.</summary>
    private static bool IsTooSmall(Tag tag, Span range, double value) =>
        value != 0 && tag.Type.IsFloat() && tag.Type.Words() > 1 && Math.Abs(value) < Nothing * (range.Maximum - range.Minimum);

    /// <summary>A float of several words that has been nothing at one time and beyond all measure at another: its exponent is made of the
    /// digits that move most.</summary>
    /// <remarks>One value says little: of random exponents one in five looks like a measurement. Filters run out to next to nothing and
    /// devices say "no value" by the largest number; nothing but words in the wrong order does both.</remarks>
    private Magnitudes? TornApart(Tag tag, Span range) =>
        tag.Type.IsFloat()
        && tag.Type.Words() > 1
        && range.Maximum - range.Minimum is var width
        && question.Magnitudes?.Invoke(tag) is { } been
        && been.Least < Nothing * width
        && been.Most > Everything * width
            ? been
            : null;

    /// <summary>A value the property cannot have: whatever the names say, a person looks first.</summary>
    private static void Refute(Candidate candidate, string words)
    {
        candidate.IsRefuted = true;
        candidate.Contradict(ScorePartKind.Value, ByValue, words);
    }

    /// <summary>The value the property would have now; null when the tag gives none.</summary>
    public double? ValueOf(OpenCell cell, Candidate candidate) => ValueOf(cell.Property, candidate.Position, candidate.Slice);

    private double? ValueOf(ResolvedProperty property, int position, Slice? slice)
    {
        var tag = lexicon.Tags[position];
        if (question.Raw?.Invoke(tag) is not { } raw || tag.IsArray || property.Declaration.Type == PropertyType.Text)
            return null;
        var value = _model.ChainOf(property.Facts, tag.Unit, slice).Compute(raw).Value;
        return double.IsFinite(value) ? value : null;
    }

    /// <summary>True when two values lie each in the other's range and not in their own.</summary>
    public bool LieSwapped(ResolvedProperty one, double value, ResolvedProperty other, double its) =>
        one.Facts.Unit == other.Facts.Unit
        && _model.RangeOf(one.Facts) is { IsUsable: true } range
        && _model.RangeOf(other.Facts) is { IsUsable: true } theirs
        && !range.Contains(value)
        && !theirs.Contains(its)
        && range.Contains(its)
        && theirs.Contains(value);

    internal static double Outside(Span range, double value) =>
        range.Contains(value)
            ? 0
            : (value > range.Maximum ? value - range.Maximum : range.Minimum - value) / (range.Maximum - range.Minimum);

    /// <summary>How alike two texts are in their words and numbers: what they share of what they have together.</summary>
    private static double Alike(string text, NameToken[] tokens)
    {
        var one = NameToken.Of(text).Select(t => t.IsNumber ? t.Number.ToString(CultureInfo.InvariantCulture) : t.Text).ToHashSet();
        var other = tokens.Select(t => t.IsNumber ? t.Number.ToString(CultureInfo.InvariantCulture) : t.Text).ToHashSet();
        return (double)one.Intersect(other).Count() / Math.Max(1, one.Union(other).Count());
    }

    private (double Identity, TagWord[] Words) Identify(InstanceNames instance, int position)
    {
        if (!_near.TryGetValue(instance.Instance.Id, out var near))
            return (Identity(instance, position), WordsBeside(instance, position));
        return near.TryGetValue(position, out var known) ? (known.Identity, known.Words) : (0, WordsBeside(instance, position));
    }

    /// <summary>How clearly a tag's texts speak of an instance: of itself and, where others are called the same, of the places above
    /// it.</summary>
    private double Identity(InstanceNames instance, int position)
    {
        var own = SpokenOf(instance.Instance, position);
        // A part without a number is often not spoken of, only what it is a part of.
        if (own < 0.7)
            return
                instance.Instance.PartId is not null
                && nodes.Of(instance.Instance).Number is null
                && instance.Lineage.Count > 1
                && SpokenOf(instance.Lineage[^2], position) > 0.7
                ? 0.4
                : 0;
        // What speaks of a part is the part's, not that of the whole.
        if (
            _model
                .Index.ChildrenOf(instance.Instance.Id)
                .Take(MostParts)
                .Any(part => part.PartId is not null && SpokenOf(part, position) > 0.7)
        )
            own *= 0.35;
        // A tag of which one text names another of its kind may be either's.
        if (OthersNamed(instance.Instance, position))
            own *= 0.35;
        // Others may be called the same: then the places above have to be spoken of, as far as they tell them apart.
        var same = nodes
            .Of(instance.Instance)
            .Marks.SelectMany(m => nodes.Called(m))
            .Where(e => e.Id != instance.Instance.Id)
            .Distinct()
            .ToList();
        for (var at = instance.Lineage.Count - 2; at >= 0 && same.Count > 0; at--)
            if (SpokenOf(instance.Lineage[at], position) > 0.7 && CalledLike(instance.Lineage[at]) is var alike)
                same.RemoveAll(e => !_model.Index.LineageOf(e.Id).Any(n => alike.Contains(n.Id)));
        return same.Count == 0 ? own : own * 0.35;
    }

    /// <summary>The nodes that are called as this one is, itself among them: a text that speaks of one speaks of all.</summary>
    private HashSet<long> CalledLike(Equipment node) =>
        _calledLike.TryGetValue(node.Id, out var known)
            ? known
            : _calledLike[node.Id] = [.. nodes.Of(node).Marks.SelectMany(m => nodes.Called(m)).Select(e => e.Id)];

    private double SpokenOf(Equipment node, int position)
    {
        var names = nodes.Of(node);
        if (names.Marks.Any(m => lexicon.Holds(position, m)))
            return 1;
        // Words that name another of its kind, one beside the other, are not said of this one.
        var isOthers = node.TemplateId is { } kind && NamedIn(position).Any(named => named.Any(n => n.TemplateId == kind));
        return names.Number is null && !isOthers ? SaidOf(node, position) : 0;
    }

    /// <summary>Whether the name or the description of a tag names others of an instance's kind, and not the instance.</summary>
    private bool OthersNamed(Equipment instance, int position) =>
        instance.TemplateId is { } kind
        && NamedIn(position).Any(named => named.Any(n => n.TemplateId == kind) && !named.Any(n => n.Id == instance.Id));

    /// <summary>The nodes that the name of a tag, and its description, call by letters and a number or by several words.</summary>
    private Equipment[][] NamedIn(int position)
    {
        if (_named.TryGetValue(position, out var known))
            return known;
        var named = new Equipment[(int)TagFace.Address][];
        Span<char> room = stackalloc char[256];
        for (var face = 0; face < named.Length; face++)
        {
            var tokens = lexicon.Tokens[face][position];
            var found = new List<Equipment>();
            for (var from = 0; from < tokens.Length; from++)
            {
                var key = new KeyWriter(room);
                for (var to = from; to < tokens.Length && to < from + TagLexicon.LongestMark; to++)
                {
                    key.Say(tokens[to]);
                    if (to > from)
                        found.AddRange(nodes.Called(key.Key));
                }
            }
            named[face] = [.. found.Distinct()];
        }
        return _named[position] = named;
    }

    private readonly Dictionary<int, Equipment[][]> _named = [];

    /// <summary>How much of a node's name a tag's words say.</summary>
    private double SaidOf(Equipment node, int position)
    {
        var words = nodes.Of(node).NameTokens;
        if (words.Length == 0)
            return 0;
        // What names the places above it is not said of it: IN may be a hall, and is then no inlet.
        var said = node.ParentId is { } above ? WordsBeside(nodes.Of(above), position) : [.. TagWords(position).SelectMany(w => w)];
        var sum = 0.0;
        foreach (var word in words)
        {
            var wanted = PropertyWord.Of(word);
            sum += said.Select(s => s.Says(wanted)).DefaultIfEmpty().Max();
        }
        return sum / words.Length;
    }

    private TagWord[][] TagWords(int position) =>
        _words.TryGetValue(position, out var words)
            ? words
            : _words[position] = [
                .. lexicon.Tokens.Select((f, i) => f[position].Select(t => TagWord.Of(t, i == (int)TagFace.Name)).ToArray()),
            ];

    /// <summary>A tag's words without those that name the instance and the places above it.</summary>
    private TagWord[] WordsBeside(InstanceNames instance, int position)
    {
        var words = TagWords(position);
        var left = words.Select(w => Enumerable.Repeat(true, w.Length).ToArray()).ToArray();
        foreach (var node in instance.Lineage)
        foreach (var mark in nodes.Of(node).Marks)
            lexicon.Where(position, mark, (face, from, count) => Array.Fill(left[face], false, from, count));
        var beside = new List<TagWord>();
        for (var face = 0; face < words.Length; face++)
        for (var i = 0; i < words[face].Length; i++)
            if (left[face][i])
                beside.Add(words[face][i]);
        return [.. beside];
    }
}
