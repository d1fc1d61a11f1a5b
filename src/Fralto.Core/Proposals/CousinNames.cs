using Fralto.Core.NamingRules;
using Fralto.Core.Plant;

namespace Fralto.Core.Proposals;

/// <summary>What tags of other templates that are named alike show of where places stand in a name: whether 20 in p_020_h10 is the pump or
/// its hall, no tag of a pump may tell, and every tag of a tank may.</summary>
/// <remarks>Only what is written as it is shows that: the number of a place, its position, or its code.</remarks>
internal sealed class CousinNames
{
    private const int MostOfTemplate = 4;
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
                .GroupBy(b => model.Equipment[b.Key].ParentId)
                .Select(g => g.MinBy(b => model.Index.PathOf(b.Key), StringComparer.Ordinal)!)
                .OrderBy(b => model.Index.PathOf(b.Key), StringComparer.Ordinal)
                .Take(MostOfTemplate)
        )
        foreach (
            var (look, marks) in instance
                .Select(b => lexicon.Tokens[(int)TagFace.Name][lexicon.PositionOf[b.TagId]])
                .SelectMany(t => Leading(t) > 0 ? [Look(t, 0), Look(t, Leading(t))] : new[] { Look(t, 0) })
                .DistinctBy(l => (l.Look, string.Join(' ', l.Marks.Select(m => m.Text))))
        )
            (_alike.TryGetValue(look, out var list) ? list : _alike[look] = []).Add((template.Key, nodes.Of(instance.Key), marks));
    }

    /// <summary>Of the templates whose tags look like that of a rule's example, the part in which places stand where the rule says they do, 0
    /// to 1; less where they are few.</summary>
    /// <param name="guess">A rule for names.</param>
    /// <param name="templateId">The template it is for.</param>
    public double Share(RuleGuess guess, long templateId)
    {
        if (guess is not { Face: TagFace.Name, Example: { } example })
            return 0;
        var tokens = _lexicon.Tokens[(int)TagFace.Name][example.Position];
        // A letter that the rule writes out before anything else says what kind of thing it is: others say that by a word.
        var kind = guess.Pattern.Pieces is [FixedPiece first, ..] ? Math.Min(Leading(tokens), NameToken.Of(first.Text).Length) : 0;
        var (look, marks) = Look(tokens, kind);
        if (
            !_alike.TryGetValue(look, out var alike)
            || PlacesOf(guess.Pattern, example.Instance, tokens.Take(kind).Count(IsMark), marks.Length) is not { Count: > 0 } places
        )
            return 0;
        var (agree, of) = (0.0, 0);
        foreach (var cousins in alike.Where(a => a.TemplateId != templateId).GroupBy(a => a.TemplateId))
        {
            of++;
            agree += (double)cousins.Count(c => places.All(p => p.Stands(c.Instance, c.Marks))) / cousins.Count();
        }
        return of == 0 ? 0 : agree / (of + Unsure);
    }

    private const double Unsure = 0.5;

    /// <summary>How many tokens stand before the first number, where there is a single letter among them; else 0.</summary>
    private static int Leading(NameToken[] tokens) =>
        Array.FindIndex(tokens, t => t.IsNumber) is > 0 and var count && tokens.Take(count).Any(t => t.IsLetter) ? count : 0;

    /// <summary>What a name looks like, and its numbers and single letters: words that follow each other are one.</summary>
    /// <param name="tokens">The name.</param>
    /// <param name="kind">So many tokens at its beginning are taken for words.</param>
    private static (string Look, NameToken[] Marks) Look(NameToken[] tokens, int kind)
    {
        var look = new System.Text.StringBuilder(tokens.Length);
        for (var i = 0; i < tokens.Length; i++)
        {
            var its =
                tokens[i].IsNumber ? '#'
                : tokens[i].IsLetter && i >= kind ? '@'
                : 'w';
            if (its != 'w' || look.Length == 0 || look[^1] != 'w')
                look.Append(its);
        }
        return (look.ToString(), [.. tokens.Skip(kind).Where(IsMark)]);
    }

    private static bool IsMark(NameToken token) => token.IsNumber || token.IsLetter;

    /// <summary>The pieces of a rule that write what a place is called, and where among the numbers and letters of a name each begins; null
    /// where they cannot be told.</summary>
    private static List<Place>? PlacesOf(NamePattern pattern, InstanceNames instance, int before, int marks)
    {
        var places = new List<Place>();
        var at = -before;
        foreach (var piece in pattern.Pieces)
        {
            if (piece is NumberPiece { Terms: [{ Times: 1 }], Offset: 0 } number)
                places.Add(new(number, null, at));
            else if (piece is TextPiece text)
                places.Add(new(null, text, at));
            if (piece.TextFor(instance) is not { } written)
                return null;
            at += NameToken.Of(written).Count(IsMark);
        }
        return at == marks ? places : null;
    }

    /// <summary>A piece, and the mark it begins with.</summary>
    private readonly record struct Place(NumberPiece? Number, TextPiece? Text, int At)
    {
        /// <summary>Whether it stands so in the name of an instance.</summary>
        public bool Stands(InstanceNames instance, NameToken[] marks)
        {
            if (Number is not null)
                return Number.ValueFor(instance) is { } value && marks[At].IsNumber && marks[At].Number == value;
            if (Text!.TextFor(instance) is not { } text)
                return false;
            var its = NameToken.Of(text).Where(IsMark).ToArray();
            if (At + its.Length > marks.Length)
                return false;
            for (var i = 0; i < its.Length; i++)
                if (its[i].IsNumber ? its[i].Number != marks[At + i].Number : its[i].Text != marks[At + i].Text)
                    return false;
            return true;
        }
    }
}
