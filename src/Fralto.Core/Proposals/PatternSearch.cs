using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>Finds the patterns that would make the text of an example: each number and word fixed, or following the instance or a place
/// above it.</summary>
internal sealed class PatternSearch
{
    private const int MostPaths = 400;
    private const int MostLookedUp = 4000;
    private const int LookedUpFor = 24;
    private const int MostApart = 130;
    private const int MostTimes = 20;

    // Where only every third unit is called so, its tags lie three steps apart.
    private const int MostLeftOut = 5;
    private const int MostTokens = 6;
    private const double RunTogether = 0.75;
    private const double Coinciding = 0.4;

    // What stands before a number makes a code of it by chance one time in as many as there are letters; likelihoods go by the square.
    private const double OfAnother = 0.2;
    private static readonly NumberKind[] WholeNumbers =
    [
        .. Enum.GetValues<NumberKind>().Except([NumberKind.Tail, NumberKind.Head, NumberKind.SiteCount]),
    ];

    /// <summary>The numbers of an instance that may stand in a larger one.</summary>
    private static readonly NumberKind[] OwnNumbers = [.. WholeNumbers, NumberKind.Tail];
    private static readonly long[] Steps = [10, 100, 1000, 10_000, 100_000];

    private readonly TagLexicon _lexicon;
    private readonly IReadOnlySet<long> _hints;
    private readonly IReadOnlySet<long> _shown;
    private readonly TagFace _face;
    private readonly string _text;
    private readonly NameToken[] _whole;
    private readonly CutTokens _cut;
    private readonly InstanceNames _names;
    private readonly PlaceRef[] _places;

    /// <summary>The numbers by which instances differ, of the instance itself first.</summary>
    private readonly Followed[] _followed;

    /// <summary>Those that may stand in a larger one: of the instance itself, and of the places above.</summary>
    private readonly Followed[] _own;
    private readonly Followed[] _above;

    /// <summary>How far apart tags of one shape lie, for each token looked at.</summary>
    private readonly Dictionary<int, List<long>> _near = [];

    /// <summary>How far apart instances may lie by what one of them takes up, for each token looked at.</summary>
    private readonly Dictionary<int, List<long>> _slots = [];
    private readonly NameToken[][] _beside;
    private readonly int _position;

    /// <summary>Whether the tags of the other properties of its instance have as many parts.</summary>
    private readonly bool _isLaidAlike;

    // Where the tags of one instance differ, the name speaks of the property.
    private readonly HashSet<int> _ofProperty;
    private readonly List<(string Key, TextPiece Piece, double Prior)> _texts;

    /// <summary>Where each text stands in the name.</summary>
    private readonly Dictionary<string, List<(int From, int Length)>> _said = new(StringComparer.Ordinal);

    /// <summary>Where the code or name of a place is written out, in several parts of the cut name.</summary>
    private readonly (PlaceRef Place, int From, int To)[] _wholes;
    private readonly IReadOnlyList<Example> _others;
    private readonly IReadOnlyList<InstanceNames> _sampled;

    /// <summary>Instances that beginnings are looked up for, and all keys for each of them.</summary>
    private readonly InstanceNames[] _few;
    private readonly KeyStretch[] _all;

    /// <param name="lexicon">All tags.</param>
    /// <param name="hints">Steps that other properties of the template take from instance to instance.</param>
    /// <param name="shown">Steps that examples of other templates show.</param>
    /// <param name="face">The text of the tag.</param>
    /// <param name="example">The example.</param>
    /// <param name="others">A few other examples.</param>
    /// <param name="beside">Examples of other properties of the same instance.</param>
    /// <param name="sampled">Instances that stand for all.</param>
    public PatternSearch(
        TagLexicon lexicon,
        IReadOnlySet<long> hints,
        IReadOnlySet<long> shown,
        TagFace face,
        Example example,
        IReadOnlyList<Example> others,
        IReadOnlyList<Example> beside,
        IReadOnlyList<InstanceNames> sampled
    )
    {
        (_lexicon, _hints, _shown, _face, _names, _others, _sampled) = (lexicon, hints, shown, face, example.Instance, others, sampled);
        (_text, _whole) = (TagLexicon.TextOf(lexicon.Tags[example.Position], face)!, lexicon.Tokens[(int)face][example.Position]);
        _few = [.. sampled.Take(LookedUpFor)];
        _all = [.. _few.Select(_ => lexicon.AllOf(face))];
        _places = [.. PlaceRef.AllOf(_names.Lineage)];
        _followed = [.. _places.SelectMany(FollowedOf)];
        _own = [.. OwnNumbers.SelectMany(k => _followed.Where(f => f.Place == PlaceRef.Self && f.Kind == k))];
        _above = [.. _followed.Where(f => f.Place != PlaceRef.Self && WholeNumbers.Contains(f.Kind))];
        _texts = TextsOf();
        (_position, _beside) = (example.Position, [.. beside.Select(e => lexicon.Tokens[(int)face][e.Position])]);
        _isLaidAlike = _beside.Length > 0 && _beside.All(t => t.Length == _whole.Length);
        var alike = beside.Select(e => lexicon.Tokens[(int)face][e.Position]).Where(t => t.Length == _whole.Length).ToArray();
        _ofProperty = [.. Enumerable.Range(0, _whole.Length).Where(i => alike.Any(t => t[i].Text != _whole[i].Text))];
        _cut = WordCutter.Cut(
            _text,
            _whole,
            _texts.Where(t => sampled.Any(s => s.TextOf(t.Piece) != t.Key)).Select(t => t.Key),
            _texts.Select(t => t.Key).ToHashSet(StringComparer.Ordinal)
        );
        _wholes = [.. WholesIn(_cut.Tokens)];
    }

    /// <summary>A number of the instance or of a place above it, with that of each of the instances that stand for all.</summary>
    private sealed record Followed(PlaceRef Place, NumberKind Kind, long Number, long?[] Sampled);

    private sealed record Arc(int From, int To, PatternPiece? Piece, double Prior, string Sign)
    {
        /// <summary>How far above the instance what it follows stands.</summary>
        public int Depth { get; } = DepthOf(Piece);

        /// <summary>What it adds to the key of each of a few instances; null where it says nothing of one.</summary>
        public string?[]? Written { get; set; }
    }

    private sealed record Path(Path? Before, Arc Arc, double Prior)
    {
        /// <summary>Its parts, from the beginning.</summary>
        public Arc[] Arcs()
        {
            var length = 0;
            for (var path = this; path is not null; path = path.Before)
                length++;
            var arcs = new Arc[length];
            for (var path = this; path is not null; path = path.Before)
                arcs[--length] = path.Arc;
            return arcs;
        }

        /// <summary>Whether another part follows the same, and is not written the same way.</summary>
        public bool Follows(Arc arc) =>
            (Arc.Sign == arc.Sign && !(Arc.Piece is TextPiece || Equals(Arc.Piece, arc.Piece))) || Before?.Follows(arc) == true;

        /// <summary>The last part that follows something.</summary>
        public Arc? Last { get; } = Arc.Sign.Length > 0 ? Arc : Before?.Last;

        /// <summary>For each of a few instances, the keys of tags that begin as it is written so far.</summary>
        public KeyStretch[]? Begun { get; set; }
    }

    /// <summary>The patterns, the most natural first, with what each follows and the places it names in words that stay as they are; each
    /// is put together when it is asked for.</summary>
    public IEnumerable<(ImmutableArray<PatternPiece> Pieces, double Prior, Func<string> Signature, ImmutableArray<TextPiece> Named)> Find()
    {
        var partials = _cut.Tokens.Select(_ => new List<Path?>()).Append([]).ToArray();
        partials[0].Add(null);
        for (var at = 0; at < _cut.Tokens.Length; at++)
        {
            var arcs = ArcsAt(at);
            foreach (var path in Fewer(partials[at]))
            foreach (var arc in arcs)
            {
                // A second part that follows the same is less likely than a fixed one, unless it is written the same way.
                var again = arc.Sign.Length > 0 && path?.Follows(arc) == true;
                var inward = arc.Sign.Length > 0 && path?.Last is { } last && last.Depth < arc.Depth;
                partials[arc.To].Add(new(path, arc, (path?.Prior ?? 1) * arc.Prior * (again ? 0.45 : 1) * (inward ? 0.8 : 1)));
            }
        }
        (TextPiece, List<(int, int)>)[] naming = [.. Naming()];
        return Fewer(partials[^1])
            .OfType<Path>()
            .OrderByDescending(p => p.Prior)
            .Select(p => (p.Prior, Arcs: p.Arcs()))
            .Select(p => (Assemble(p.Arcs), p.Prior, (Func<string>)(() => SignatureOf(p.Arcs)), NamedBy(p.Arcs, naming)));
    }

    /// <summary>What a pattern follows, and where in the name, if the names of the other properties have as many parts.</summary>
    private string SignatureOf(Arc[] arcs) =>
        string.Join(
            '|',
            arcs.Where(a => a.Sign.Length > 0)
                .Select(a => _isLaidAlike ? $"{a.Sign}{RuleGuess.Where}{_cut.WholeOf(a.From)}" : a.Sign)
                .Distinct()
        );

    /// <summary>What a pattern writes out of the places above, so that it is of these places alone.</summary>
    private static ImmutableArray<TextPiece> NamedBy(Arc[] arcs, (TextPiece Piece, List<(int From, int Length)> Runs)[] naming)
    {
        if (naming.Length == 0)
            return [];
        var written = arcs.Where(a => a.Piece is null).Select(a => a.From).ToHashSet();
        return [.. naming.Where(n => n.Runs.Exists(r => Enumerable.Range(r.From, r.Length).All(written.Contains))).Select(n => n.Piece)];
    }

    /// <summary>Codes and names of the places above that are written out, with where they stand.</summary>
    private IEnumerable<(TextPiece, List<(int From, int Length)>)> Naming()
    {
        foreach (var (key, piece, _) in _texts)
            if (
                piece.Cut == TextCut.Whole
                && piece.Place != PlaceRef.Self
                && key.Any(char.IsLetter)
                && _said.TryGetValue(key, out var runs)
            )
                yield return (piece, runs);
    }

    /// <summary>Of very many beginnings those that are natural and that tags begin with for other instances.</summary>
    private IEnumerable<Path?> Fewer(List<Path?> paths)
    {
        if (paths.Count <= MostPaths)
            return paths;
        var natural = paths.OrderByDescending(p => p!.Prior).Take(MostLookedUp);
        return _few.Length == 0
            ? natural.Take(MostPaths)
            : natural.OrderByDescending(p => p!.Prior * Math.Pow(Found(p) + 0.1, 3)).Take(MostPaths);
    }

    /// <summary>For how many instances there are tags that begin so; whole names that are the same for several count once, as each tag is
    /// of one.</summary>
    private int Found(Path? path)
    {
        var begun = BegunOf(path);
        var isWhole = path?.Arc.To == _cut.Tokens.Length;
        var found = 0;
        for (var i = 0; i < begun.Length; i++)
            if (!begun[i].IsEmpty && !(isWhole && begun.AsSpan(0, i).Contains(begun[i])))
                found++;
        return found;
    }

    /// <summary>What begins so begins as the path before it did: each part only looks on among what was found up to there.</summary>
    private KeyStretch[] BegunOf(Path? path)
    {
        if (path is null)
            return _all;
        if (path.Begun is { } known)
            return known;
        var (before, written) = (BegunOf(path.Before), WrittenBy(path.Arc));
        var begun = new KeyStretch[_few.Length];
        for (var i = 0; i < begun.Length; i++)
            if (written[i] is { } text && !before[i].IsEmpty)
                begun[i] = _lexicon.Narrow(_face, before[i], text);
        return path.Begun = begun;
    }

    private string?[] WrittenBy(Arc arc)
    {
        if (arc.Written is { } known)
            return known;
        var written = new string?[_few.Length];
        Span<char> room = stackalloc char[256];
        for (var i = 0; i < written.Length; i++)
        {
            var key = new KeyWriter(room);
            if (arc.Piece is null)
                for (var at = arc.From; at < arc.To; at++)
                    key.Add(_cut.Tokens[at]);
            else if (!arc.Piece.Write(_few[i], ref key))
                continue;
            written[i] = key.ToString();
        }
        return arc.Written = written;
    }

    /// <summary>How far above the instance what a piece follows stands.</summary>
    private static int DepthOf(PatternPiece? piece)
    {
        static int Of(PlaceRef place) => place.Level is { } level ? 20 - (int)LevelRules.RankOf(level) : place.Up;
        return piece switch
        {
            TextPiece text => Of(text.Place),
            NumberPiece { Terms.IsEmpty: false } number => number.Terms.Min(t => Of(t.Place)),
            _ => 0,
        };
    }

    private ImmutableArray<PatternPiece> Assemble(Arc[] arcs)
    {
        var pieces = ImmutableArray.CreateBuilder<PatternPiece>();
        var (fixedText, end, text, tokens) = ("", 0, _text, _cut.Tokens);
        foreach (var arc in arcs)
        {
            var upTo = arc.To < tokens.Length ? tokens[arc.To].Start : text.Length;
            var ends = arc.To == tokens.Length ? NameToken.EndOf(text, tokens[^1]) : NameToken.EndOf(text, tokens[arc.To - 1]);
            fixedText += text[end..tokens[arc.From].Start];
            if (arc.Piece is null)
                fixedText += text[tokens[arc.From].Start..ends];
            else
            {
                if (fixedText.Length > 0)
                    pieces.Add(new FixedPiece(fixedText));
                fixedText = "";
                pieces.Add(arc.Piece);
            }
            end = Math.Min(ends, upTo);
        }
        fixedText += text[end..];
        if (fixedText.Length > 0)
            pieces.Add(new FixedPiece(fixedText));
        return pieces.ToImmutable();
    }

    private List<(string Key, TextPiece Piece, double Prior)> TextsOf()
    {
        var found = new List<(string, TextPiece, double)>();
        var ways = 0.0;
        foreach (var place in _places)
        {
            var node = _names.NamesOf(place)!;
            if (_names.TextOf(new(place, false, TextCut.OrderLetter)) is { } letter)
                found.Add((letter, new(place, false, TextCut.OrderLetter), 0.55));
            foreach (var ofName in new[] { false, true })
            {
                void Add(TextCut cut, int length, double prior)
                {
                    if (node.TextOf(ofName, cut, length) is { Length: > 0 } key && key.Any(char.IsLetter))
                        found.Add((key, new(place, ofName, cut, length), prior - ways));
                }
                Add(TextCut.Whole, 0, 1);
                var words = WordsOf(node, ofName);
                // Beside Primary crushing, PC or PRIMARY, stands Washing, W or WASHING.
                var areMore = words == 1 && _sampled.Any(s => WordsOf(s.NamesOf(place), ofName) > 1);
                if (words > 1 || areMore)
                {
                    Add(TextCut.Initials, 0, words > 1 ? 0.8 : 0.55);
                    Add(TextCut.Last, 0, 0.8);
                    Add(TextCut.First, 0, 0.75);
                }
                for (var length = 1; length <= 5; length++)
                    Add(TextCut.Letters, length, 0.6 + 0.03 * length);
                for (var length = 2; length <= 5; length++)
                    Add(TextCut.Consonants, length, 0.58 + 0.03 * length);
                Add(TextCut.Consonants, 0, 0.7);
            }
            ways += 0.02;
        }
        return
        [
            .. found
                .GroupBy(f =>
                    (
                        f.Item1,
                        f.Item2.Place,
                        f.Item2.OfName,
                        f.Item2.Cut is TextCut.OrderLetter or TextCut.Initials or TextCut.First or TextCut.Last
                            ? f.Item2.Cut
                            : TextCut.Whole
                    )
                )
                .Select(g => g.MaxBy(f => f.Item3)),
        ];
    }

    private static int WordsOf(NodeNames? node, bool ofName) =>
        node is null ? 0 : (ofName ? node.NameTokens : node.CodeTokens).Count(t => !t.IsNumber);

    /// <summary>Whether what a word was cut into is a long word itself, and none that a place or instance is called by.</summary>
    private bool IsLongWord(int at) =>
        _cut.Tokens[at].Text is var word && word.Length >= WordCutter.Telling && !_texts.Any(t => t.Key == word);

    /// <summary>Whether what would be a code or name made shorter is a part of the code or name itself, written out: North is not its
    /// first two letters and then "rth".</summary>
    private bool IsWrittenWhole(TextPiece piece, int at, int length) =>
        piece.Cut is not (TextCut.Whole or TextCut.OrderLetter)
        && _wholes.Any(w => w.Place == piece.Place && w.From <= at && w.To >= at + length && w.To - w.From > length);

    private IEnumerable<(PlaceRef Place, int From, int To)> WholesIn(NameToken[] tokens)
    {
        for (var from = 0; from < tokens.Length; from++)
        for (var to = from + 2; to <= tokens.Length && to <= from + MostTokens; to++)
        {
            var key = NameToken.KeyOf(tokens.AsSpan(from, to - from));
            foreach (var (text, piece, _) in _texts)
                if (piece.Cut == TextCut.Whole && text == key)
                    yield return (piece.Place, from, to);
        }
    }

    private List<Arc> ArcsAt(int at)
    {
        var (arcs, tokens) = (new List<Arc>(), _cut.Tokens);
        for (var length = 1; length <= MostTokens && at + length <= tokens.Length; length++)
        {
            var key = NameToken.KeyOf(tokens.AsSpan(at, length));
            var inside = _cut.IsInside(at) || _cut.IsInside(at + length);
            // Letters that stand by themselves are not what somebody made by shortening a name.
            var isSpelled = Enumerable
                .Range(at + 1, length - 1)
                .Any(i => tokens[i].IsLetter && tokens[i - 1].IsLetter && !_cut.IsInside(i));
            foreach (var (feature, piece, prior) in _texts)
            {
                if (feature != key || (isSpelled && piece.Cut != TextCut.Whole) || IsWrittenWhole(piece, at, length))
                    continue;
                // A short one that begins or ends a long word, as IN does INLET, is there by chance.
                if (
                    piece.Cut == TextCut.Whole
                    && (
                        key.Length >= WordCutter.Telling
                        || !(_cut.IsInside(at) && IsLongWord(at - 1) || _cut.IsInside(at + length) && IsLongWord(at + length))
                    )
                )
                    (_said.TryGetValue(key, out var runs) ? runs : _said[key] = []).Add((at, length));
                if ((piece.Cut == TextCut.Whole && !inside) || _sampled.Any(s => s.TextOf(piece) != feature))
                    arcs.Add(new(at, at + length, piece, prior * (inside ? RunTogether : 1), SignOf(piece)));
            }
        }
        var token = tokens[at];
        var isFeature = arcs.Any(a => a.To == at + 1);
        if (!token.IsNumber)
        {
            arcs.Add(new(at, at + 1, null, isFeature && !_cut.IsInside(at) && !_cut.IsInside(at + 1) ? 0.7 : 1, ""));
            return arcs;
        }
        var numbers = new List<(double Prior, long Offset, (Followed Number, long Times)[] Terms)>();
        var digits = NameToken.EndOf(_text, token) - token.Start;
        var pad = _text[token.Start] == '0' && digits > 1 ? digits : 0;
        var ofProperty = _ofProperty.Contains(_cut.WholeOf(at));
        // The 10 of H10, the area, is no unit's.
        PlaceRef[] written = [.. _wholes.Where(w => w.Place != PlaceRef.Self && w.From <= at && at < w.To).Select(w => w.Place)];
        void Follow(double prior, long offset, params (Followed Number, long Times)[] terms) =>
            numbers.Add(
                (
                    prior
                        * (ofProperty ? Coinciding : 1)
                        * (written.Length > 0 && !terms.Any(t => written.Contains(t.Number.Place)) ? OfAnother : 1),
                    offset,
                    terms
                )
            );
        foreach (var followed in _followed)
        {
            var (place, kind, number) = (followed.Place, followed.Kind, followed.Number);
            var rank = (place == PlaceRef.Self ? 1 : 0.9) * RankOf(kind);
            // Part of a number is taken as it stands; counting on from it would be far-fetched.
            if (kind is NumberKind.Tail or NumberKind.Head && token.Number != number)
                continue;
            Follow((token.Number == number ? 1 : 0.4) * rank, token.Number - number, (followed, 1));
            if (kind is NumberKind.Tail or NumberKind.Head)
                continue;
            foreach (var step in Steps)
            {
                var leads = token.Number / step == number;
                // A last digit of nothing is held by everything.
                var holds = number % 10 != 0 && token.Number / step % 10 == number % 10;
                if (token.Number - number * step < 0 && !holds)
                    continue;
                Follow(
                    (
                        leads ? 0.9
                        : holds ? 0.7
                        : 0.25
                    ) * rank,
                    token.Number - number * step,
                    (followed, step)
                );
            }
            if (
                number > 1
                && token.Number % number == 0
                && token.Number / number is > 1 and <= MostTimes and var times
                && !Steps.Contains(times)
            )
                Follow(0.5 * rank, 0, (followed, times));
            foreach (var (step, prior) in Observed(_cut.WholeOf(at), followed))
                // Tens and hundreds were tried, but for those that reckon from below nothing.
                if (step > 1 && (!Steps.Contains(step) || token.Number < number * step))
                    Follow(prior * rank, token.Number - number * step, (followed, step));
        }
        Pairs(token.Number, Follow);
        var exact = numbers.Any(n => n.Prior >= 0.85) || isFeature;
        arcs.Add(new(at, at + 1, null, exact && !ofProperty ? 0.55 : 0.75, ""));
        // What comes to the same for all instances looked at is one way, the most natural.
        var ways = new Dictionary<long[], (double Prior, long Offset, (Followed Number, long Times)[] Terms)>(new SameValues());
        var order = new List<long[]>();
        foreach (var number in numbers)
        {
            var values = ValuesOf(number.Offset, number.Terms);
            if (!ways.TryGetValue(values, out var way))
                order.Add(values);
            else if (way.Prior >= number.Prior)
                continue;
            ways[values] = number;
        }
        foreach (var values in order)
        {
            var (prior, offset, its) = ways[values];
            ImmutableArray<NumberTerm> terms = [.. its.Select(t => new NumberTerm(t.Number.Place, t.Number.Kind, t.Times))];
            arcs.Add(new(at, at + 1, new NumberPiece(terms, offset, pad), prior, SignOf(terms)));
        }
        return arcs;
    }

    /// <summary>What comes out for each of the instances that stand for all; less than nothing where nothing does.</summary>
    private long[] ValuesOf(long offset, (Followed Number, long Times)[] terms)
    {
        var values = new long[_sampled.Count];
        for (var i = 0; i < values.Length; i++)
        {
            var sum = offset;
            foreach (var (number, times) in terms)
                sum = number.Sampled[i] is { } its && sum > long.MinValue ? sum + its * times : long.MinValue;
            values[i] = sum < 0 ? -1 : sum;
        }
        return values;
    }

    private sealed class SameValues : IEqualityComparer<long[]>
    {
        public bool Equals(long[]? one, long[]? other) => one.AsSpan().SequenceEqual(other);

        public int GetHashCode(long[] values)
        {
            var hash = new HashCode();
            foreach (var value in values)
                hash.Add(value);
            return hash.ToHashCode();
        }
    }

    /// <summary>A number that holds two: the area's and the unit's, as 1102 in area 11; or the digits of the unit's own with others
    /// between them, as 1302 of unit 102; or three.</summary>
    private void Pairs(long value, Action<double, long, (Followed, long)[]> follow)
    {
        if (value < 11)
            return;
        foreach (var own in _own)
        foreach (var above in own.Kind == NumberKind.Tail ? _followed.Where(IsOwnHead).Concat(_above) : _above)
            for (var outer = 10L; outer <= value; outer *= 10)
            for (var inner = 1L; inner < outer; inner *= 10)
            {
                var (leads, holds) = (value / outer == above.Number, value / outer % 10 == above.Number % 10);
                if (!holds || value / inner % (outer / inner) % 100 != own.Number % 100)
                    continue;
                if (value - above.Number * outer - own.Number * inner is var rest && rest < 0)
                    continue;
                var prior = Math.Sqrt(RankOf(above.Kind)) * RankOf(own.Kind);
                follow((leads ? 0.95 : 0.75) * prior, rest, [(above, outer), (own, inner)]);
                if (own.Kind is not (NumberKind.Number or NumberKind.Tail))
                    continue;
                // And that of a place above both, as site, area and unit in 21102.
                foreach (var upper in _above.Where(a => a.Number > 0 && LevelOf(a) > LevelOf(above)))
                    for (var top = outer * 10; top <= rest; top *= 10)
                        if (value / top % 10 == upper.Number % 10 && rest >= upper.Number * top)
                            follow(
                                (value / top == upper.Number ? 0.95 : 0.75) * prior * Math.Sqrt(RankOf(upper.Kind)),
                                rest - upper.Number * top,
                                [(upper, top), (above, outer), (own, inner)]
                            );
            }
    }

    private static bool IsOwnHead(Followed followed) => followed.Place == PlaceRef.Self && followed.Kind == NumberKind.Head;

    private int LevelOf(Followed followed) => Array.IndexOf(_places, followed.Place);

    /// <summary>The numbers of a place by which instances differ.</summary>
    private List<Followed> FollowedOf(PlaceRef place)
    {
        var (all, varying) = (new List<Followed>(), new List<Followed>());
        foreach (var kind in Enum.GetValues<NumberKind>())
        {
            if (_names.NumberOf(place, kind) is not { } number)
                continue;
            var its = new Followed(place, kind, number, [.. _sampled.Select(s => s.NumberOf(place, kind))]);
            // Two kinds of number that go the same steps are one, and the first of them is the more natural.
            if (
                (place == PlaceRef.Self && kind == NumberKind.Number)
                || (its.Sampled.Any(s => s != number) && !all.Exists(o => GoTheSameSteps(o, its)))
            )
                varying.Add(its);
            all.Add(its);
        }
        return varying;
    }

    private static bool GoTheSameSteps(Followed one, Followed other)
    {
        for (var i = 0; i < one.Sampled.Length; i++)
            if (one.Sampled[i] - one.Number != other.Sampled[i] - other.Number)
                return false;
        return true;
    }

    internal static double RankOf(NumberKind kind) =>
        kind switch
        {
            NumberKind.Number => 1,
            NumberKind.Tail or NumberKind.Head => 0.85,
            NumberKind.Order => 0.75,
            _ => 0.6,
        };

    /// <summary>Steps that other examples show, or that tags of the same shape lie apart.</summary>
    private IEnumerable<(long Step, double Prior)> Observed(int at, Followed followed)
    {
        var (number, tokens) = (followed.Number, _whole);
        foreach (var example in _others)
        {
            var theirs = _lexicon.Tokens[(int)_face][example.Position];
            if (
                theirs.Length != tokens.Length
                || !theirs[at].IsNumber
                || example.Instance.NumberOf(followed.Place, followed.Kind) is not { } its
                || its == number
            )
                continue;
            if (
                (theirs[at].Number - tokens[at].Number) % (its - number) == 0
                && (theirs[at].Number - tokens[at].Number) / (its - number) is > 0 and var step
            )
                yield return (step, 0.95);
        }
        // The tags of one shape are looked up number by number around the example, as far as steps usually go.
        if (_face == TagFace.Description)
            yield break;
        var near = NearTo(at);
        // Instances may themselves be counted in steps, as 10, 20, 30; and where many are missing only what all lie apart is a step.
        var apart = ApartOf(followed);
        var common = near.Aggregate(0L, NumberRuns.Divisor);
        foreach (
            var step in near.Concat(near.Where(s => s % 2 == 0).Select(s => s / 2))
                .Concat(near.Where(s => s % 3 == 0).Select(s => s / 3))
                .Concat(Enumerable.Range(1, MostLeftOut).Where(k => common > k && common % k == 0).Select(k => common / k))
                .Concat(apart > 1 ? near.Where(s => s % apart == 0).Select(s => s / apart) : [])
                .Distinct()
        )
            yield return (step, _hints.Contains(step) ? 0.5 : 0.3);
        foreach (var step in SlotsAt(at))
            if (!near.Contains(step) && !near.Contains(step * 2) && !_hints.Contains(step))
                yield return (step, 0.3);
        foreach (var step in _hints)
            if (!near.Contains(step) && !near.Contains(step * 2))
                yield return (step, 0.5);
        // Where no tag is there to show them; of those there are, they are no more than others.
        foreach (var step in _shown)
            if (!near.Contains(step) && !near.Contains(step * 2) && !_hints.Contains(step))
                yield return (step, 0.25);
    }

    /// <summary>How far apart instances may lie: what one has lies side by side, and what others have begins where it ends, or so far
    /// beyond that nothing lies between.</summary>
    private List<long> SlotsAt(int at)
    {
        if (_slots.TryGetValue(at, out var known))
            return known;
        var slots = _slots[at] = [];
        bool DiffersThere(NameToken[] its)
        {
            if (its.Length != _whole.Length || !its[at].IsNumber)
                return false;
            for (var i = 0; i < its.Length; i++)
                if (i != at && its[i].Text != _whole[i].Text)
                    return false;
            return true;
        }
        long[] own = [.. _beside.Where(DiffersThere).Select(t => t[at].Number).Append(_whole[at].Number)];
        if (own.Length < FewestOfSlot)
            return slots;
        var first = own.Min();
        var step = own.Aggregate(0L, (s, n) => NumberRuns.Divisor(s, n - first));
        var extent = own.Max() - first + step;
        if (step == 0 || extent > MostApart)
            return slots;
        long[] all =
        [
            .. _lexicon
                .Shaped(_face, _position)
                .Take(MostInSlots)
                .Select(p => _lexicon.Tokens[(int)_face][p])
                .Where(DiffersThere)
                .Select(t => t[at].Number - first),
        ];
        for (var apart = extent; apart <= 2 * extent + MostBetween * step; apart += step)
            if (all.All(n => (n % apart + apart) % apart < extent))
                slots.Add(apart);
        return slots;
    }

    private const int FewestOfSlot = 3;
    private const int MostInSlots = 2000;
    private const int MostBetween = 12;

    /// <summary>How far from the example others lie that differ from it in one of its numbers alone.</summary>
    private List<long> NearTo(int at)
    {
        if (_near.TryGetValue(at, out var known))
            return known;
        var near = new List<long>();
        for (var step = 2L; step <= MostApart; step++)
            if (IsThere(at, step) || IsThere(at, -step))
                near.Add(step);
        return _near[at] = near;
    }

    /// <summary>Whether there is a tag called as the example with one of its numbers so much larger.</summary>
    private bool IsThere(int at, long by)
    {
        if (_whole[at].Number + by < 0)
            return false;
        var key = new KeyWriter(stackalloc char[256]);
        for (var i = 0; i < _whole.Length; i++)
            if (i == at)
                key.Add(_whole[i].Number + by);
            else
                key.Add(_whole[i]);
        return _lexicon.Has(_face, key.Key);
    }

    /// <summary>What the numbers of the instances lie apart: their greatest common step.</summary>
    private static long ApartOf(Followed followed)
    {
        var apart = 0L;
        foreach (var number in followed.Sampled)
            if (number is { } its && its != followed.Number)
                apart = NumberRuns.Divisor(apart, its - followed.Number);
        return apart;
    }

    private static string SignOf(TextPiece piece) => piece.Place == PlaceRef.Self ? "self" : $"{piece.Place}:text";

    private static string SignOf(ImmutableArray<NumberTerm> terms) =>
        string.Join(
            '+',
            terms.Select(t => t is { Place.Up: 0, Kind: NumberKind.Number, Times: 1 } ? "self" : $"{t.Place}:{t.Kind}*{t.Times}")
        );
}
