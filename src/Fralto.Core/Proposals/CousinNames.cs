using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;
using Fralto.Core.Plant;

namespace Fralto.Core.Proposals;

/// <summary>What tags of other templates that are named alike show of where places stand in a name: whether 20 in p_020_h10 is the pump or
/// its hall, no tag of a pump may tell, and every tag of a tank may.</summary>
/// <remarks>Only what is written as it is said shows that: the number of a place, or its code.</remarks>
internal sealed class CousinNames
{
    private const int MostOfTemplate = 6;
    private const int MostTemplates = 60;

    /// <summary>Names that look alike once their words are left out, by what they look like.</summary>
    private readonly Dictionary<string, List<Cousin>> _alike = new(StringComparer.Ordinal);

    private readonly PlantModel _model;
    private readonly TagLexicon _lexicon;
    private readonly PlantNames _nodes;

    /// <param name="model">The model; its bindings are the examples.</param>
    /// <param name="lexicon">Its tags.</param>
    /// <param name="nodes">Its nodes.</param>
    public CousinNames(PlantModel model, TagLexicon lexicon, PlantNames nodes)
    {
        (_model, _lexicon, _nodes) = (model, lexicon, nodes);
        var bound = model
            .Bindings.Values.Where(b => lexicon.PositionOf.ContainsKey(b.TagId))
            .GroupBy(b => b.EquipmentId)
            .GroupBy(b => model.Equipment[b.Key].TemplateId!.Value);
        foreach (var template in bound.OrderBy(t => model.Templates[t.Key].Code, StringComparer.Ordinal).Take(MostTemplates))
        foreach (
            var instance in template
                .OrderBy(b => model.Index.PathOf(b.Key), StringComparer.Ordinal)
                .GroupBy(b => model.Equipment[b.Key].ParentId)
                // One of each place first.
                .SelectMany(g => g.Select((b, turn) => (Bound: b, Turn: turn)))
                .OrderBy(b => b.Turn)
                .Take(MostOfTemplate)
                .Select(b => b.Bound)
        )
        foreach (
            var (position, (look, marks)) in instance
                .Select(b => lexicon.PositionOf[b.TagId])
                .Select(p => (Position: p, Look: Look(lexicon.Tokens[(int)TagFace.Name][p], KindOf(nodes.Of(instance.Key)))))
                .DistinctBy(l => (l.Look.Look, string.Join(' ', l.Look.Marks.Select(m => m.Text))))
        )
            (_alike.TryGetValue(look, out var list) ? list : _alike[look] = []).Add(
                new(template.Key, nodes.Of(instance.Key), marks, position)
            );
    }

    /// <summary>Of the templates whose tags look like that of a rule's example, the part in which places stand where the rule says they
    /// do, 0 to 1: 1 for most of them, less where they are few. And how far units of other numbers bear out what it reckons, 0 to
    /// 1.</summary>
    /// <param name="guess">A rule for names.</param>
    /// <param name="templateId">The template it is for.</param>
    public (double Share, double Borne) Of(RuleGuess guess, long templateId)
    {
        if (guess is not { Face: TagFace.Name, Example: { } example })
            return (0, 0);
        var tokens = _lexicon.Tokens[(int)TagFace.Name][example.Position];
        var kind = KindOf(example.Instance);
        var (look, marks) = Look(tokens, kind);
        if (
            !_alike.TryGetValue(look, out var alike)
            || PlacesOf(guess.Pattern, example.Instance, tokens.Take(Leading(tokens)).Count(t => IsMark(t, kind)), marks.Length)
                is not { Count: > 0 } places
        )
            return (0, 0);
        var (agree, of) = (0.0, 0);
        // What is reckoned and comes out for units of other numbers is no chance; for one it may be, whose step it was taken from, unless
        // it goes on as the digits do.
        var (borne, refuted) = (new HashSet<string>(StringComparer.Ordinal), 0);
        foreach (var cousins in alike.Where(a => a.TemplateId != templateId).GroupBy(a => a.TemplateId))
        {
            var (itsAgree, itsOf) = (0, 0);
            foreach (var cousin in cousins)
            {
                // What is reckoned comes to the same for the same number, however it is reckoned: as well as what is said.
                var said = AllStand(places.Where(p => !p.IsReckoned || p.IsSame(cousin.Instance)), cousin);
                if (said is { } stands)
                    (itsOf, itsAgree) = (itsOf + 1, itsAgree + (stands ? 1 : 0));
                if (said == false)
                    continue;
                var comesOut = AllStand(places.Where(p => p.IsBearing(cousin.Instance)), cousin);
                if (comesOut == true)
                    borne.Add(Borne(places, cousin.Instance));
                else if (comesOut == false)
                    refuted++;
                if (comesOut != false && refuted == 0 && (said, comesOut) != (null, null))
                    borne.UnionWith(Followed(places, cousin));
            }
            if (itsOf == 0)
                continue;
            of++;
            agree += (double)itsAgree / itsOf;
        }
        // Most of them are as good as all: two rules that put the same place there, one by its number and one by its code, are no rivals.
        return (
            of == 0 ? 0 : Math.Min(1, agree / (of + Unsure) / Most),
            Math.Clamp(borne.Count - (places.TrueForAll(p => p.KeepsDigits) ? OneKept : 1), 0, 1)
                * borne.Count
                / Math.Max(1, borne.Count + refuted)
        );

        // What has no such place, or calls it by no number, says nothing.
        static bool? AllStand(IEnumerable<Place> places, Cousin cousin)
        {
            bool?[] stand = [.. places.Select(p => p.Stands(cousin.Instance, cousin.Marks))];
            return stand.Length == 0 || stand.Contains(null) ? null : stand.All(s => s == true);
        }
    }

    /// <summary>What a rule reckons for units of other numbers.</summary>
    private static string Borne(IEnumerable<Place> places, InstanceNames instance) =>
        string.Join(' ', places.Where(p => p.IsBearing(instance)).Select(p => p.Piece.TextFor(instance)));

    /// <summary>What a rule reckons for the other units of a template, where there are tags called as the one that is bound but for that,
    /// and hardly any others are.</summary>
    private IEnumerable<string> Followed(List<Place> places, Cousin cousin)
    {
        if (!places.Exists(p => p.IsReckoned))
            return [];
        var name = _lexicon.Tokens[(int)TagFace.Name][cousin.Position];
        var kind = KindOf(cousin.Instance);
        int[] marks = [.. Enumerable.Range(0, name.Length).Skip(Leading(name)).Where(i => IsMark(name[i], kind))];
        var shaped = _lexicon.Shaped(TagFace.Name, cousin.Position);
        if (shaped.Count > MostShaped)
            return [];
        var own = NameToken.KeyOf(name);
        var found = new HashSet<string>(StringComparer.Ordinal);
        InstanceNames[] all = [.. _model.Index.InstancesOf(cousin.TemplateId).Select(e => _nodes.Of(e.Id))];
        var having = new HashSet<InstanceNames> { cousin.Instance };
        foreach (var one in all)
        {
            if (one == cousin.Instance)
                continue;
            var its = name.ToArray();
            var isWhole = true;
            foreach (var place in places)
            {
                var text = place.Piece.TextFor(one) is { } t ? NameToken.Of(t).Where(m => IsMark(m, kind)).ToArray() : null;
                if (text is null || text.Length != place.Count)
                {
                    isWhole = false;
                    break;
                }
                for (var i = Math.Max(0, -place.At); i < text.Length; i++)
                    its[marks[place.At + i]] = text[i];
            }
            if (!isWhole || NameToken.KeyOf(its) is not { } key || !_lexicon.Has(TagFace.Name, key))
                continue;
            having.Add(one);
            if (key != own)
                found.Add(Borne(places, one));
        }
        if (found.Count < FewestFollowed || InstanceSample.Leaps(all, having) > 0)
            return [];
        // What differs in another number is another property's, and several controllers may call theirs alike.
        var reckoned = places
            .SelectMany(p => Enumerable.Range(Math.Max(0, p.At), p.Count + Math.Min(0, p.At)))
            .Select(i => marks[i])
            .ToHashSet();
        var tokens = _lexicon.Tokens[(int)TagFace.Name];
        var alike = shaped
            .Where(p => Enumerable.Range(0, name.Length).All(i => reckoned.Contains(i) || tokens[p][i].Text == name[i].Text))
            .Select(p => NameToken.KeyOf(tokens[p]))
            .Distinct()
            .Count();
        return found.Count + 1 >= NearlyAll * alike ? found.Where(f => f.Length > 0) : [];
    }

    private const int MostShaped = 2000;
    private const int FewestFollowed = 2;
    private const double NearlyAll = 0.8;

    /// <summary>A tag of another template that is bound.</summary>
    private sealed record Cousin(long TemplateId, InstanceNames Instance, NameToken[] Marks, int Position);

    /// <summary>Steps from unit to unit that an example and one of another template show together: tank 20 called 283 and pump 30
    /// called 303 go by two.</summary>
    /// <param name="example">The example.</param>
    /// <param name="templateId">Its template.</param>
    public IEnumerable<long> Steps(Example example, long templateId)
    {
        var (look, marks) = Look(_lexicon.Tokens[(int)TagFace.Name][example.Position], KindOf(example.Instance));
        if (!_alike.TryGetValue(look, out var alike) || example.Instance.NumberOf(PlaceRef.Self, NumberKind.Number) is not { } own)
            return [];
        var steps =
            from cousin in alike
            where cousin.TemplateId != templateId
            let apart = (cousin.Instance.NumberOf(PlaceRef.Self, NumberKind.Number) ?? own) - own
            where apart != 0
            from i in Enumerable.Range(0, marks.Length)
            where marks[i].IsNumber && (cousin.Marks[i].Number - marks[i].Number) % apart == 0
            let step = (cousin.Marks[i].Number - marks[i].Number) / apart
            where step is > 1 and <= LongestStep
            select (cousin.TemplateId, Step: step);
        return steps
            .Distinct()
            .GroupBy(s => s.Step)
            .OrderByDescending(g => g.Count())
            .ThenBy(g => g.Key)
            .Take(MostSteps)
            .Select(g => g.Key);
    }

    private const int MostSteps = 3;
    private const int LongestStep = 1000;

    private const double OneKept = 0.3;
    private const double Unsure = 0.5;
    private const double Most = 0.6;

    /// <summary>How many tokens stand before the first number: they say what kind of thing it is, some by a letter and some by a word. 0
    /// where there is no number.</summary>
    private static int Leading(NameToken[] tokens) => Math.Max(0, Array.FindIndex(tokens, t => t.IsNumber));

    /// <summary>What a name looks like, and its numbers and the letters after the first: words that follow each other are one.</summary>
    private static (string Look, NameToken[] Marks) Look(NameToken[] tokens, string? kind)
    {
        var leading = Leading(tokens);
        var look = new System.Text.StringBuilder(tokens.Length);
        for (var i = 0; i < tokens.Length; i++)
        {
            var its =
                tokens[i].IsNumber ? '#'
                : IsMark(tokens[i], kind) && i >= leading ? '@'
                : 'w';
            if (its != 'w' || look.Length == 0 || look[^1] != 'w')
                look.Append(its);
        }
        return (look.ToString(), [.. tokens.Skip(leading).Where(t => IsMark(t, kind))]);
    }

    /// <summary>Whether a token tells one of a kind from others: a number or letter, but for the letter that says the kind, the P of
    /// P101.</summary>
    private static bool IsMark(NameToken token, string? kind) => token.IsNumber || (token.IsLetter && token.Text != kind);

    /// <summary>The letter that a unit's code says its kind by; null where it does so by a word, or by nothing.</summary>
    private static string? KindOf(InstanceNames instance) =>
        NameToken.Of(instance.Instance.Code) is [{ IsLetter: true } kind, _, ..] ? kind.Text : null;

    /// <summary>The pieces of a rule that write a number or a code somebody says, with the numbers and letters that are theirs;
    /// null where they cannot be told.</summary>
    private static List<Place>? PlacesOf(NamePattern pattern, InstanceNames instance, int before, int marks)
    {
        var places = new List<Place>();
        var kind = KindOf(instance);
        var at = -before;
        foreach (var piece in pattern.Pieces)
        {
            if (piece.TextFor(instance) is not { } written)
                return null;
            var count = NameToken.Of(written).Count(t => IsMark(t, kind));
            // What stands before the first number is left out, of the name as of the rule; a code that begins there and goes on beyond, as
            // A1, counts by what stands beyond, as a number does that stands there by itself.
            if (count > 0 && at + count > 0 && (piece is TextPiece || piece is NumberPiece { Terms.IsEmpty: false }))
                places.Add(new(piece, at, count, written));
            at += count;
        }
        return at == marks ? places : null;
    }

    /// <summary>A piece, the mark it begins with, less than 0 where it begins before the first number, and how many are its.</summary>
    private readonly record struct Place(PatternPiece Piece, int At, int Count, string Own)
    {
        /// <summary>True where it is not the number as it is said.</summary>
        public bool IsReckoned => Piece is NumberPiece { Terms: not [{ Times: 1, IsSaid: true }] } or NumberPiece { Offset: not 0 };

        /// <summary>True where the digits of what is said stay as they are, whatever is added.</summary>
        public bool KeepsDigits => Piece is not NumberPiece number || number.Terms.All(t => t.KeepsDigits);

        /// <summary>Whether it says something of how numbers are reckoned that comes to another for an instance than for that of the
        /// rule; a position that falls in with a number says nothing.</summary>
        public bool IsBearing(InstanceNames instance) =>
            IsReckoned && !IsSame(instance) && Piece is NumberPiece number && number.Terms.All(t => t.IsSaid);

        /// <summary>Whether it is the same for an instance as for that of the rule.</summary>
        public bool IsSame(InstanceNames instance) => Piece.TextFor(instance) == Own;

        /// <summary>Whether it stands so in the name of an instance; null where it says nothing of it.</summary>
        public bool? Stands(InstanceNames instance, NameToken[] marks)
        {
            if (Piece.TextFor(instance) is not { } text)
                return null;
            var kind = KindOf(instance);
            var its = NameToken.Of(text).Where(t => IsMark(t, kind)).ToArray();
            if (its.Length != Count)
                return null;
            for (var i = Math.Max(0, -At); i < its.Length; i++)
                if (its[i].IsNumber ? its[i].Number != marks[At + i].Number : its[i].Text != marks[At + i].Text)
                    return false;
            return true;
        }
    }
}
