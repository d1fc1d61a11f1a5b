using System.Collections.Immutable;
using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>Finds the naming rules that explain examples: each part of a name may be fixed, or follow a number or text of the instance or
/// of a place above it.</summary>
/// <remarks>A single example leaves many rules open; they are told apart by how natural they are and by how many other instances they find
/// a free tag for.</remarks>
internal sealed class RuleLearner(TagLexicon lexicon, Func<int, Slice?, bool> isFree)
{
    private const int FewestTried = 12;
    private const double GoldenSection = 0.6180339887498949;
    private const int MostSampled = 40;
    private const int MostKept = 4;
    private const int MostShown = 8;

    // An array has an element for every number, so only the numbers people go by are tried on it.
    private static readonly NumberKind[] PartNumbers = [NumberKind.Number, NumberKind.Order];
    private const double UsuallyFound = 3;
    private const double UsuallyMissing = 0.5;

    /// <summary>Steps that other properties of the template take from instance to instance.</summary>
    public HashSet<long> Hints { get; } = [];

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
        var sampled = Sample(example.Instance, others);
        var elsewhere = examples.Where(e => e.Instance.Instance.Id != example.Instance.Instance.Id);
        var bound = elsewhere.ToDictionary(e => e.Instance.Instance.Id);
        // A few that are bound already show the steps; all of them are asked whether a rule explains them.
        Example[] few = [.. elsewhere.Take(MostShown)];
        var paths = new PatternSearch(lexicon, Hints, face, example, few, beside, sampled).Find();
        var parts = face == TagFace.Name ? PartsOf(example, few, others.Count) : [(null, null, 1, "")];
        var guesses = new List<RuleGuess>();
        var seen = new HashSet<string>(StringComparer.Ordinal);
        var best = 0.0;
        foreach (var (pieces, prior, signature) in paths)
        {
            if (prior < best * 0.2)
                break;
            foreach (var (element, bit, partPrior, partSignature) in parts)
            {
                var pattern = new NamePattern(pieces, element, bit, example.Slice?.BitCount ?? 1);
                if (!pattern.Follows && others.Count > 1)
                    continue;
                var guess = new RuleGuess(face, pattern, prior * partPrior, signature + partSignature) { IsSupposed = supposed };
                if (!Try(guess, example, bound, sampled, fits))
                    continue;
                if (!seen.Add(string.Join('\n', guess.Sample!)))
                    continue;
                guesses.Add(guess);
                best = Math.Max(best, guess.Score);
            }
        }
        return [.. guesses.OrderByDescending(g => g.Score).ThenByDescending(g => g.Prior).Take(MostKept * 3)];
    }

    /// <summary>Weighs the guesses of all properties of a template together: properties of one template are named alike.</summary>
    public static void Agree(IReadOnlyCollection<List<RuleGuess>> properties)
    {
        foreach (var face in Enum.GetValues<TagFace>())
        {
            var (shares, hits) = (
                new Dictionary<string, double>(StringComparer.Ordinal),
                new Dictionary<string, int>(StringComparer.Ordinal)
            );
            foreach (var guesses in properties)
            foreach (var top in guesses.Where(g => g.Face == face).GroupBy(g => g.Signature).Select(g => g.MaxBy(x => x.Score)!))
            {
                shares[top.Signature] = shares.GetValueOrDefault(top.Signature) + top.Score;
                hits[top.Signature] = hits.GetValueOrDefault(top.Signature) + top.Hits;
            }
            if (shares.Count == 0)
                continue;
            var most = Math.Max(shares.Values.Max(), 1e-9);
            foreach (var guesses in properties)
            {
                foreach (var guess in guesses.Where(g => g.Face == face && !g.IsKept))
                    guess.Score *= 0.35 + 0.65 * shares[guess.Signature] / most;
                var top = guesses.Where(g => g.Face == face && !g.IsKept).Select(g => g.Score).DefaultIfEmpty().Max();
                var bestHits = guesses.Where(g => g.Face == face && !g.IsKept).MaxBy(g => g.Score)?.Hits ?? 0;
                foreach (var guess in guesses.Where(g => g.Face == face && !g.IsKept))
                {
                    var evidence = 0.5 + guess.Hits + 2 * guess.Agreed + 0.5 * Math.Max(0, hits[guess.Signature] - guess.Hits);
                    var trust = Math.Pow(Math.Clamp(guess.Prior, 0.01, 1), 1 / evidence);
                    // The more instances were looked at, the more it means that another rule explains them better.
                    guess.Trust =
                        top <= 0 || (guess.Of > 0 && guess.Hits == 0)
                            ? 0
                            : trust * Math.Pow(guess.Score / top, 1 + Math.Min(4, bestHits / 5.0));
                }
                var kept = guesses
                    .Where(g => g.Face != face || g.IsKept)
                    .Concat(
                        guesses
                            .Where(g => g.Face == face && !g.IsKept && g.Strength > 0.1)
                            .OrderByDescending(g => g.Strength)
                            .Take(MostKept)
                    )
                    .ToArray();
                guesses.Clear();
                guesses.AddRange(kept);
            }
        }
    }

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
        var (weight, found, taken) = (0.0, 0.0, new HashSet<(int, Slice?)>());
        var sample = new List<string>(sampled.Count + 1);
        Span<char> room = stackalloc char[256];
        foreach (var one in sampled)
        {
            if (guess.Of == FewestTried && guess.Hits + guess.Agreed == 0 && sampled.Count > 2 * FewestTried && !guess.IsKept)
                return false;
            var near = example is null ? 1 : Nearness(example.Instance, one);
            guess.Of++;
            weight += near;
            var key = new KeyWriter(room);
            guess.Pattern.Write(one, ref key, out var whole);
            var slice = whole ? guess.Pattern.SliceFor(one) : null;
            sample.Add(whole ? $"{key.Key}{slice}" : "");
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
                else
                    guess.Contradicted++;
            }
            if (hit < 0 || !taken.Add((hit, slice)))
                continue;
            guess.Hits++;
            found += near * (fits(hit, slice) ? 1 : 0.35);
        }
        guess.Sample = [.. sample];
        guess.Support = weight > 0 ? found / weight : 0.6;
        // The more instances bear a rule out, the less it matters how natural it looked.
        var prior = Math.Pow(guess.Prior, 1.0 / (1 + guess.Agreed + guess.Hits / 10.0));
        guess.Score = prior * (guess.Of == 0 ? 0.6 : Math.Pow((found + 0.05) / (weight + 0.1), 1.5)) * Math.Pow(0.6, guess.Contradicted);
        guess.Example = example;
        return true;
    }

    /// <summary>Asks all instances of a rule that was chosen, those most like its example first as each tag counts once, and keeps how it
    /// holds in each group of them.</summary>
    public void Count(RuleGuess guess, IReadOnlyList<InstanceNames> all, IReadOnlyList<Example> examples, Func<int, Slice?, bool> fits)
    {
        var taken = new HashSet<(int, Slice?)>();
        var bound = examples.ToDictionary(e => e.Instance.Instance.Id);
        Span<char> room = stackalloc char[256];
        var (found, of) = (0.0, 0);
        foreach (
            var one in guess.Example is { } example
                ? all.OrderByDescending(i => i.Instance.PartId == example.Instance.Instance.PartId)
                    .ThenByDescending(i => Nearness(example.Instance, i))
                : all.AsEnumerable()
        )
        {
            if (one.Instance.Id == guess.Example?.Instance.Instance.Id)
                continue;
            var key = new KeyWriter(room);
            guess.Pattern.Write(one, ref key, out var whole);
            var slice = whole ? guess.Pattern.SliceFor(one) : null;
            var hit = 0.0;
            if (whole && !(guess.Pattern.NamesPart && slice is null))
                foreach (var position in lexicon.With(guess.Face, key.Key))
                    if (
                        bound.TryGetValue(one.Instance.Id, out var its)
                            ? its.Position == position && its.Slice == slice
                            : hit < 1 && !taken.Contains((position, slice)) && isFree(position, slice)
                    )
                        hit = Claim(position, slice);
            (found, of) = (found + hit, of + 1);
            var (hits, count) = guess.Near.GetValueOrDefault(one.Group);
            guess.Near[one.Group] = (hits + hit, count + 1);
        }
        guess.Overall = of == 0 ? 0.6 : (found + UsuallyFound) / (of + UsuallyFound + UsuallyMissing);

        double Claim(int position, Slice? slice)
        {
            taken.Add((position, slice));
            return fits(position, slice) ? 1 : 0.35;
        }
    }

    /// <summary>How near two instances stand: 1 below the same place, less the farther apart.</summary>
    internal static double Nearness(InstanceNames one, InstanceNames other)
    {
        var shared = 0;
        while (shared < one.Lineage.Count - 1 && shared < other.Lineage.Count - 1 && one.Lineage[shared].Id == other.Lineage[shared].Id)
            shared++;
        return Math.Pow(0.75, one.Lineage.Count - 1 - shared);
    }

    /// <summary>A few dozen instances that stand for all: those nearest to the example and others spread over the rest.</summary>
    internal static IReadOnlyList<InstanceNames> Sample(InstanceNames? example, IReadOnlyList<InstanceNames> all)
    {
        var others = all.Where(o => o.Instance.Id != example?.Instance.Id).ToArray();
        if (others.Length <= MostSampled)
            return others;
        var near = example is null
            ? []
            : others
                .Where(o => o.Instance.ParentId == example.Instance.ParentId)
                .OrderBy(o => Math.Abs(o.Instance.Order - example.Instance.Order))
                .Take(MostSampled / 2)
                .ToArray();
        var rest = others.Except(near).ToArray();
        var far = new InstanceNames[MostSampled - near.Length];
        // Plants are built in rhythms, as valve, valve, motor; a stride by the golden section falls in with none of them.
        for (var i = 0; i < far.Length; i++)
            far[i] = rest[(int)(rest.Length * (i * GoldenSection % 1))];
        far = [.. far.Distinct()];
        // Near and far by turns, so that a few of the first stand for all.
        return [.. near.Zip(far).SelectMany(p => new[] { p.First, p.Second }), .. near.Skip(far.Length), .. far.Skip(near.Length)];
    }

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
