using System.Collections.Immutable;
using System.Text;
using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>Finds the naming rules that explain examples: each part of a name may be fixed, or follow a number or text of the instance or
/// of a place above it.</summary>
/// <remarks>A single example leaves many rules open; they are told apart by how natural they are and by how many other instances they find
/// a free tag for.</remarks>
/// <param name="lexicon">All tags.</param>
/// <param name="isFree">Whether a tag, or part of one, feeds nothing yet.</param>
internal sealed class RuleLearner(TagLexicon lexicon, Func<int, Slice?, bool> isFree)
{
    private const int FewestTried = 32;
    private const int MostGuesses = 30;
    private const int MostShown = 8;

    // An array has an element for every number, so only the numbers people go by are tried on it.
    private static readonly NumberKind[] PartNumbers = [NumberKind.Number, NumberKind.Order];
    private const double SaidAgain = 0.1;

    /// <summary>Steps that other properties of the template take from instance to instance.</summary>
    public HashSet<long> Hints { get; } = [];

    /// <summary>Steps that an example and those of other templates show together.</summary>
    public HashSet<long> Shown { get; } = [];

    /// <summary>Rules for one property, the best first.</summary>
    /// <param name="face">The text of the tags it is about.</param>
    /// <param name="example">The example the rules are made from.</param>
    /// <param name="examples">All examples of the property; rules that explain them are preferred.</param>
    /// <param name="others">The instances that have the property.</param>
    /// <param name="fits">Whether a tag fits the property.</param>
    /// <param name="beside">Examples of other properties of the same instance.</param>
    /// <param name="supposed">True when nobody has bound the example.</param>
    public List<RuleGuess> Guesses(
        TagFace face,
        Example example,
        IReadOnlyList<Example> examples,
        IReadOnlyList<InstanceNames> others,
        Func<int, Slice?, bool> fits,
        IReadOnlyList<Example> beside,
        bool supposed = false
    )
    {
        var tag = lexicon.Tags[example.Position];
        var text = TagLexicon.TextOf(tag, face);
        if (text is null)
            return [];
        var tokens = lexicon.Tokens[(int)face][example.Position];
        if (tokens.Length is 0 or > 24)
            return [];
        // A text that several tags of one controller share says nothing about the instance.
        if (
            face != TagFace.Name
            && lexicon
                .With(face, NameToken.KeyOf(tokens))
                .Any(p => p != example.Position && lexicon.Tags[p].ControllerId == tag.ControllerId)
        )
            return [];
        var sampled = InstanceSample.Of(example.Instance, others);
        var elsewhere = examples.Where(e => e.Instance.Instance.Id != example.Instance.Instance.Id);
        var bound = elsewhere.ToDictionary(e => e.Instance.Instance.Id);
        // A few that are bound already show the steps; all of them are asked whether a rule explains them.
        Example[] few = [.. elsewhere.Take(MostShown)];
        var paths = new PatternSearch(lexicon, Hints, Shown, face, example, few, beside, sampled).Find();
        var parts = face == TagFace.Name ? PartsOf(example, few, others.Count) : [(null, null, 1, "")];
        var guesses = new List<RuleGuess>();
        var seen = new HashSet<string>(StringComparer.Ordinal);
        var best = 0.0;
        foreach (var (pieces, prior, signature, named) in paths)
        {
            if (prior < best * 0.05)
                break;
            foreach (var (element, bit, partPrior, partSignature) in parts)
            {
                var pattern = new NamePattern(pieces, element, bit, example.Slice?.BitCount ?? 1);
                if (!pattern.Follows && others.Count > 1)
                    continue;
                // What the name says already the part of it does not say again.
                var again = pattern.NamesInstance && pattern.CountsParts ? SaidAgain : 1;
                var guess = new RuleGuess(face, pattern, prior * partPrior * again, () => signature() + partSignature)
                {
                    IsSupposed = supposed,
                    Named = Of(named, example.Instance),
                };
                if (!Try(guess, example, bound, sampled, fits))
                    continue;
                if (!seen.Add(guess.Sample))
                    continue;
                guesses.Add(guess);
                best = Math.Max(best, guess.Score);
            }
        }
        return [.. guesses.OrderByDescending(g => g.Score).ThenByDescending(g => g.Prior).Take(MostGuesses)];
    }

    // What a try works with: there are many of them.
    private readonly HashSet<(int, Slice?)> _taken = [];
    private readonly Dictionary<(long, long), (double Found, int Of)> _groups = [];
    private readonly StringBuilder _sample = new();

    /// <summary>Asks of how many instances a rule names a free tag.</summary>
    /// <returns>False when it found none among the first and was given up.</returns>
    public bool Try(
        RuleGuess guess,
        Example? example,
        IReadOnlyDictionary<long, Example> examples,
        IReadOnlyList<InstanceNames> sampled,
        Func<int, Slice?, bool> fits
    )
    {
        var (weight, found) = (0.0, 0.0);
        var (taken, groups, sample) = (_taken, _groups, _sample);
        taken.Clear();
        groups.Clear();
        sample.Clear();
        Span<char> room = stackalloc char[256];
        foreach (var one in sampled)
        {
            if (guess.Of == FewestTried && guess.Hits + guess.Agreed == 0 && !guess.IsKept)
                return false;
            var near = example is null ? 1 : InstanceSample.Nearness(example.Instance, one);
            guess.Of++;
            weight += near;
            var (hits, count) = groups.GetValueOrDefault(one.Group);
            groups[one.Group] = (hits, count + 1);
            var key = new KeyWriter(room);
            guess.Write(one, ref key, out var whole);
            var slice = whole ? guess.Pattern.SliceFor(one) : null;
            if (whole)
                sample.Append(key.Key).Append(slice?.ToString());
            sample.Append('\n');
            if (!whole || (guess.Pattern.NamesPart && slice is null))
                continue;
            var bound = examples.GetValueOrDefault(one.Instance.Id);
            var hit = -1;
            foreach (var position in lexicon.With(guess.Face, key.Key))
                if (
                    bound is not null
                        ? bound.Position == position && bound.Slice == slice
                        : !taken.Contains((position, slice)) && isFree(position, slice)
                )
                    hit = hit < 0 || fits(position, slice) ? position : hit;
            if (bound is not null)
            {
                if (hit >= 0)
                    guess.Agreed++;
                else if (lexicon.Has(guess.Face, key.Key))
                    guess.Contradicted++;
            }
            if (hit < 0 || !taken.Add((hit, slice)))
                continue;
            guess.Hits++;
            var worth = fits(hit, slice) ? 1 : 0.35;
            found += near * worth;
            groups[one.Group] = (hits + worth, count + 1);
        }
        guess.Sample = sample.ToString();
        guess.Found = [.. taken.Select(t => t.Item1)];
        guess.Support = weight > 0 ? found / weight : 0.6;
        // The more instances bear a rule out, the less it matters how natural it looked.
        var prior = Math.Pow(guess.Prior, 1.0 / (1 + guess.Agreed + guess.Hits / 10.0));
        guess.Score = prior * (guess.Of == 0 ? 0.6 : Soundness([.. groups.Values])) * Math.Pow(0.6, guess.Contradicted);
        guess.Example = example;
        return true;
    }

    /// <summary>How well a rule stands: where it holds it holds for nearly all, and the more the better, above 0 to 1.</summary>
    /// <remarks>A rule of one hall finds all there and none elsewhere; one that finds some everywhere finds them by chance.</remarks>
    private static double Soundness((double Found, int Of)[] groups)
    {
        var (found, of) = (groups.Sum(g => g.Found), groups.Sum(g => g.Of));
        return found <= 0
            ? LeastSound / (of + 1)
            : groups.Sum(g => g.Found * g.Found / (g.Of + 0.5)) / found * Math.Sqrt((found + 0.05) / (of + 0.1));
    }

    private static (TextPiece, string)[] Of(ImmutableArray<TextPiece> named, InstanceNames instance) =>
        [.. named.Select(n => (n, instance.TextOf(n)!))];

    private const double LeastSound = 0.01;

    /// <summary>How the part of a tag may follow: fixed, or a step from instance to instance.</summary>
    private static List<(NumberPiece? Element, NumberPiece? Bit, double Prior, string Sign)> PartsOf(
        Example example,
        IReadOnlyList<Example> other,
        int instances
    )
    {
        if (example.Slice is not { } slice)
            return [(null, null, 1, "")];
        static NumberPiece? Fixed(int? at) => at is { } value ? new([], value, 0) : null;
        var ways = new List<(NumberPiece?, NumberPiece?, double, string)> { (Fixed(slice.Element), Fixed(slice.FirstBit), 0.8, "") };
        foreach (var (place, kind) in PlaceRef.AllOf(example.Instance.Lineage).Take(3).SelectMany(p => PartNumbers.Select(k => (p, k))))
        {
            if (example.Instance.NumberOf(place, kind) is not { } number)
                continue;
            void Follow(bool element, long step, double prior)
            {
                var from = element ? slice.Element!.Value : slice.FirstBit!.Value;
                var piece = new NumberPiece([new(place, kind, step)], from - number * step, 0);
                ways.Add(
                    (
                        element ? piece : Fixed(slice.Element),
                        element ? Fixed(slice.FirstBit) : piece,
                        prior * PatternSearch.RankOf(kind),
                        $"|{(element ? "element" : "bit")}:{place}:{kind}*{step}"
                    )
                );
            }
            foreach (var element in new[] { true, false })
            {
                if ((element ? slice.Element : slice.FirstBit) is not { } at)
                    continue;
                var shown = other
                    .Select(o => (Number: o.Instance.NumberOf(place, kind), At: element ? o.Slice?.Element : o.Slice?.FirstBit))
                    .Where(o =>
                        o.Number is not null && o.At is not null && o.Number != number && (o.At.Value - at) % (o.Number.Value - number) == 0
                    )
                    .Select(o => (o.At!.Value - at) / (o.Number!.Value - number))
                    .Where(s => s > 0)
                    .Distinct()
                    .ToArray();
                foreach (var step in shown)
                    Follow(element, step, 0.95);
                if (shown.Length > 0)
                    continue;
                var places = element ? example.Count : 16;
                var each = instances > 0 && places % instances == 0 ? places / instances : 0;
                foreach (
                    var step in new long[] { 1, 2, 4, 8, 10, 16, 20, 32 }
                        .Append(each)
                        .Where(s => s > 0)
                        .Distinct()
                )
                    Follow(
                        element,
                        step,
                        step == each ? 0.7
                            : step == 1 ? 0.4
                            : 0.25
                    );
            }
        }
        return ways;
    }
}
