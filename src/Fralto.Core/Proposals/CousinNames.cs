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
    private readonly Dictionary<string, List<(long TemplateId, InstanceNames Instance, NameToken[] Marks)>> _alike = new(
        StringComparer.Ordinal
    );

    private readonly TagLexicon _lexicon;

    /// <param name="model">The model; its bindings are the examples.</param>
    /// <param name="lexicon">Its tags.</param>
    /// <param name="nodes">Its nodes.</param>
    public CousinNames(PlantModel model, TagLexicon lexicon, PlantNames nodes)
    {
        _lexicon = lexicon;
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
            var (look, marks) in instance
                .Select(b => Look(lexicon.Tokens[(int)TagFace.Name][lexicon.PositionOf[b.TagId]]))
                .DistinctBy(l => (l.Look, string.Join(' ', l.Marks.Select(m => m.Text))))
        )
            (_alike.TryGetValue(look, out var list) ? list : _alike[look] = []).Add((template.Key, nodes.Of(instance.Key), marks));
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
        var (look, marks) = Look(tokens);
        if (
            !_alike.TryGetValue(look, out var alike)
            || PlacesOf(guess.Pattern, example.Instance, tokens.Take(Leading(tokens)).Count(IsMark), marks.Length)
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
                if (said == false || AllStand(places.Where(p => p.IsBearing(cousin.Instance)), cousin) is not { } comesOut)
                    continue;
                if (comesOut)
                    borne.Add(
                        string.Join(' ', places.Where(p => p.IsBearing(cousin.Instance)).Select(p => p.Piece.TextFor(cousin.Instance)))
                    );
                else
                    refuted++;
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
        static bool? AllStand(IEnumerable<Place> places, (long, InstanceNames Instance, NameToken[] Marks) cousin)
        {
            bool?[] stand = [.. places.Select(p => p.Stands(cousin.Instance, cousin.Marks))];
            return stand.Length == 0 || stand.Contains(null) ? null : stand.All(s => s == true);
        }
    }

    /// <summary>Steps from unit to unit that an example and one of another template show together: tank 20 called 283 and pump 30
    /// called 303 go by two.</summary>
    /// <param name="example">The example.</param>
    /// <param name="templateId">Its template.</param>
    public IEnumerable<long> Steps(Example example, long templateId)
    {
        var (look, marks) = Look(_lexicon.Tokens[(int)TagFace.Name][example.Position]);
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
    private static (string Look, NameToken[] Marks) Look(NameToken[] tokens)
    {
        var leading = Leading(tokens);
        var look = new System.Text.StringBuilder(tokens.Length);
        for (var i = 0; i < tokens.Length; i++)
        {
            var its =
                tokens[i].IsNumber ? '#'
                : tokens[i].IsLetter && i >= leading ? '@'
                : 'w';
            if (its != 'w' || look.Length == 0 || look[^1] != 'w')
                look.Append(its);
        }
        return (look.ToString(), [.. tokens.Skip(leading).Where(IsMark)]);
    }

    private static bool IsMark(NameToken token) => token.IsNumber || token.IsLetter;

    /// <summary>The pieces of a rule that write a number or a code somebody says, with the numbers and letters that are theirs;
    /// null where they cannot be told.</summary>
    private static List<Place>? PlacesOf(NamePattern pattern, InstanceNames instance, int before, int marks)
    {
        var places = new List<Place>();
        var at = -before;
        foreach (var piece in pattern.Pieces)
        {
            if (piece.TextFor(instance) is not { } written)
                return null;
            var count = NameToken.Of(written).Count(IsMark);
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
            var its = NameToken.Of(text).Where(IsMark).ToArray();
            if (its.Length != Count)
                return null;
            for (var i = Math.Max(0, -At); i < its.Length; i++)
                if (its[i].IsNumber ? its[i].Number != marks[At + i].Number : its[i].Text != marks[At + i].Text)
                    return false;
            return true;
        }
    }
}
