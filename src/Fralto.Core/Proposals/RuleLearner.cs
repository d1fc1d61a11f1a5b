using System.Collections.Immutable;
using System.Text;
using Fralto.Core.Basics;
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
/// <param name="controllers">Which controllers are called after which places; null where there is but one.</param>
internal sealed class RuleLearner(TagLexicon lexicon, Func<int, Slice?, bool> isFree, ControllerNames? controllers = null)
{
    private const int FewestTried = 32;
    private const double GoldenSection = 0.6180339887498949;
    private const int MostSampled = 40;
    private const int MostKept = 5;
    private const int MostShown = 8;

    // An array has an element for every number, so only the numbers people go by are tried on it.
    private static readonly NumberKind[] PartNumbers = [NumberKind.Number, NumberKind.Order];
    private const double SaidAgain = 0.1;
    private const double UsuallyFound = 3;
    private const double UsuallyMissing = 0.5;

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
        var sampled = Sample(example.Instance, others);
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
        return [.. guesses.OrderByDescending(g => g.Score).ThenByDescending(g => g.Prior).Take(MostKept * 6)];
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
            var chosen = new List<(List<RuleGuess> Guesses, RuleGuess[] Own, HashSet<RuleGuess> Kept)>();
            foreach (var guesses in properties)
            {
                // What others of another convention follow says nothing of this one.
                foreach (var rivals in guesses.Where(g => g.Face == face && !g.IsKept).GroupBy(g => g.Example))
                {
                    var most = Math.Max(rivals.Max(g => shares[g.Signature]), 1e-9);
                    foreach (var guess in rivals)
                        guess.Score *= 0.35 + 0.65 * shares[guess.Signature] / most;
                }
                var own = guesses.Where(g => g.Face == face && !g.IsKept).ToArray();
                // Only rules made from one example are rivals: another example may be of another convention, and is right as well.
                foreach (var rivals in own.GroupBy(g => g.Example))
                {
                    var best = rivals.MaxBy(g => g.Score)!;
                    foreach (var guess in rivals)
                    {
                        var evidence = 0.5 + guess.Hits + 2 * guess.Agreed + 0.5 * Math.Max(0, hits[guess.Signature] - guess.Hits);
                        var trust = Math.Pow(Math.Clamp(guess.Prior, 0.01, 1), 1 / evidence);
                        // The more instances were looked at, the more it means that another rule explains them better.
                        guess.Trust =
                            best.Score <= 0 || (guess.Of > 0 && guess.Hits == 0)
                                ? 0
                                : trust * Math.Pow(guess.Score / best.Score, 1 + Math.Min(4, best.Hits / 5.0));
                    }
                }
                chosen.Add(
                    (
                        guesses,
                        own,
                        [
                            .. own.Where(g => g.Strength > LeastKept)
                                .GroupBy(g => g.Example)
                                .SelectMany(e => e.OrderByDescending(g => g.Strength).Take(MostKept))
                                .OrderByDescending(g => g.Strength)
                                .Take(MostKept * 4),
                            // What is written as it is said is compared, however few are called so.
                            .. own.Where(g => g.Hits > 0 && g.Pattern.IsSaid).GroupBy(g => g.Example).Select(e => e.MaxBy(g => g.Prior)!),
                        ]
                    )
                );
            }
            // What many of the others follow stays to be compared, however weak it looks alone.
            var common = chosen
                .SelectMany(c => c.Kept.Select(g => g.Signature).Distinct())
                .GroupBy(s => s)
                .Where(g => g.Count() >= Math.Max(2, chosen.Count(c => c.Own.Length > 0) / 2))
                .Select(g => g.Key)
                .ToHashSet();
            foreach (var (guesses, own, kept) in chosen)
                guesses.RemoveAll(g => g.Face == face && !g.IsKept && !kept.Contains(g) && !(g.Trust > 0 && common.Contains(g.Signature)));
        }
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
            var near = example is null ? 1 : Nearness(example.Instance, one);
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

    /// <summary>Asks all instances of a rule that was chosen, those most like its example first as each tag counts once, and keeps how it
    /// holds in each group of them.</summary>
    public void Count(RuleGuess guess, IReadOnlyList<InstanceNames> all, IReadOnlyList<Example> examples, Func<int, Slice?, bool> fits)
    {
        var taken = new Dictionary<(int, Slice?), InstanceNames>();
        var bound = examples.ToDictionary(e => e.Instance.Instance.Id);
        Span<char> room = stackalloc char[256];
        var (found, of) = (0.0, 0);
        var ordered = guess.Example is { } example
            ? all.OrderByDescending(i => i.Instance.PartId == example.Instance.Instance.PartId)
                .ThenByDescending(i => Nearness(example.Instance, i))
            : all.OrderBy(_ => 0);
        // Who has a tag called so in the controller of its own place has that; what is in those of other places is of others.
        foreach (var one in controllers is null ? ordered : ordered.OrderByDescending(i => IsAtHome(guess, i)))
        {
            if (one.Instance.Id == guess.Example?.Instance.Instance.Id)
                continue;
            var key = new KeyWriter(room);
            guess.Write(one, ref key, out var whole);
            var slice = whole ? guess.Pattern.SliceFor(one) : null;
            var hit = 0.0;
            if (whole && !(guess.Pattern.NamesPart && slice is null))
                if (bound.TryGetValue(one.Instance.Id, out var its))
                    hit =
                        its.Slice == slice && lexicon.With(guess.Face, key.Key).Contains(its.Position)
                            ? Claim(its.Position, slice, one)
                            : 0;
                else
                {
                    var home = IsAtHome(guess, one) ? controllers?.For(one) : null;
                    foreach (var position in lexicon.With(guess.Face, key.Key))
                        if (controllers?.IsOthers(one, lexicon.Tags[position].ControllerId) == true)
                            guess.Disputed.Add(position);
                        else if (
                            hit < 1
                            && (home is null || lexicon.Tags[position].ControllerId == home)
                            && !taken.ContainsKey((position, slice))
                            && isFree(position, slice)
                        )
                            hit = Claim(position, slice, one);
                }
            if (hit == 0 && whole && !guess.Pattern.NamesPart && controllers?.For(one) is null)
                foreach (var position in lexicon.With(guess.Face, key.Key))
                    if (taken.TryGetValue((position, slice), out var holder))
                    {
                        guess.Contested[one.Group] = guess.Contested.GetValueOrDefault(one.Group) + 1;
                        guess.Disputed.Add(position);
                        // Two of sites that are called alike throughout are told apart by their controllers, not by what tags are called.
                        if (!AreTwins(holder, one, guess.Pattern.FollowsName))
                            guess.Confused++;
                        break;
                    }
            (found, of) = (found + hit, of + 1);
            var (hits, count) = guess.Near.GetValueOrDefault(one.Group);
            guess.Near[one.Group] = (hits + hit, count + 1);
        }
        guess.Overall = of == 0 ? 0.6 : (found + UsuallyFound) / (of + UsuallyFound + UsuallyMissing);
        guess.Counted(ChanceOf(guess, all));
        AskPlainly(guess, all, bound);

        double Claim(int position, Slice? slice, InstanceNames one)
        {
            taken.TryAdd((position, slice), one);
            guess.Claimed[position] = one.Group;
            if (fits(position, slice))
                return 1;
            guess.Misfits++;
            return 0.35;
        }
    }

    /// <summary>Where a rule that adds to the number of an instance finds few, asks for how many of them there is a free tag with the
    /// number as it is: the adding may be of another place.</summary>
    private void AskPlainly(RuleGuess guess, IReadOnlyList<InstanceNames> all, Dictionary<long, Example> bound)
    {
        if (guess.IsKept || guess.Pattern.Plain is not { } plain)
            return;
        Span<char> room = stackalloc char[256];
        foreach (var group in all.GroupBy(i => i.Group))
        {
            if (!guess.Near.TryGetValue(group.Key, out var near) || near.Found > near.Of * Few)
                continue;
            var there = 0;
            foreach (var one in group.Where(o => !bound.ContainsKey(o.Instance.Id)))
            {
                var key = new KeyWriter(room);
                plain.Write(one, ref key, out var whole);
                if (!whole)
                    continue;
                foreach (var position in lexicon.With(guess.Face, key.Key))
                    if (isFree(position, plain.SliceFor(one)) && !guess.Claimed.ContainsKey(position))
                    {
                        there++;
                        break;
                    }
            }
            if (there > 0)
                guess.Plainly[group.Key] = there;
        }
    }

    private const double Few = 0.5;

    /// <summary>Whether there is a tag that a rule names for an instance in the controller that is called after its place.</summary>
    private bool IsAtHome(RuleGuess guess, InstanceNames instance)
    {
        if (controllers?.For(instance) is not { } home)
            return false;
        var key = new KeyWriter(stackalloc char[256]);
        guess.Write(instance, ref key, out var whole);
        if (whole)
            foreach (var position in lexicon.With(guess.Face, key.Key))
                if (lexicon.Tags[position].ControllerId == home)
                    return true;
        return false;
    }

    /// <summary>Whether two instances are called alike in all but their sites; of those a rule only counts, their places.</summary>
    private static bool AreTwins(InstanceNames one, InstanceNames other, bool areCalled) =>
        one.Lineage.Count == other.Lineage.Count
        && one.Instance.ParentId != other.Instance.ParentId
        && one.Lineage.Zip(other.Lineage)
            .SkipLast(areCalled ? 0 : 1)
            .All(p => p.First.Code == p.Second.Code || p.First.Level == EquipmentLevel.Site);

    /// <summary>Counts the tags called like those a rule names that neither it nor another rule of the template names.</summary>
    /// <param name="guess">The rule.</param>
    /// <param name="explained">Whether another property of the template has a tag.</param>
    /// <param name="cells">How many tags the template can have.</param>
    public void Cover(RuleGuess guess, Func<int, bool> explained, int cells)
    {
        if (guess.Pattern.NamesPart || guess.Claimed.Count == 0 || guess.IsKept)
            return;
        var tokens = lexicon.Tokens[(int)guess.Face];
        var (alike, explains) = (new HashSet<int>(), new HashSet<int>(guess.Claimed.Keys));
        KeptDigits[] kept = [.. guess.Pattern.Pieces.OfType<NumberPiece>().Select(KeptDigits.Of).OfType<KeptDigits>()];
        string Shape(int position) => string.Join(' ', tokens[position].Select(t => t.IsNumber ? "#" : t.Text));
        // What other kinds of equipment are called may look the same; it lies in other numbers.
        foreach (var like in guess.Claimed.GroupBy(c => (c.Value, Shape(c.Key)), c => c.Key))
        {
            var some = like.ToArray();
            var (low, high) = (
                tokens[some[0]].Select((_, i) => some.Min(s => tokens[s][i].Number)).ToArray(),
                tokens[some[0]].Select((_, i) => some.Max(s => tokens[s][i].Number)).ToArray()
            );
            // What stands between the steps is of something else; where numbers run close together it may be of anything.
            var steps = tokens[some[0]]
                .Select((_, i) => some.Aggregate(0L, (step, s) => Divisor(step, tokens[s][i].Number - low[i])))
                .ToArray();
            // Of 1305 and 2307 the 3 stays as it is, as a word does.
            var between = tokens[some[0]].Select((_, i) => kept.FirstOrDefault(k => some.All(s => k.IsIn(tokens[s][i].Number)))).ToArray();
            var shaped = lexicon.Shaped(guess.Face, some[0]);
            // Of registers of the whole plant most are of other equipment, which lies elsewhere among them.
            var isDense = guess.Chance > Dense;
            var isShared =
                isDense
                && shaped.Count > MoreThanAll * cells
                && shaped.Take(MostAlike).Count(p => IsOf(tokens[p], low, high)) > MoreThanAll * cells;
            foreach (var position in shaped.Take(MostAlike))
            {
                var its = tokens[position];
                var within = true;
                for (var i = 0; i < its.Length && within; i++)
                    within =
                        !its[i].IsNumber
                        || (
                            low[i] == high[i]
                                ? its[i].Number == low[i]
                                : (isDense && !isShared)
                                    || (
                                        its[i].Number >= low[i]
                                        && its[i].Number <= high[i]
                                        && (
                                            isDense
                                            || ((its[i].Number - low[i]) % steps[i] == 0 && between[i]?.IsIn(its[i].Number) != false)
                                        )
                                    )
                        );
                if (within && (isFree(position, null) || explains.Contains(position)))
                    alike.Add(position);
            }
        }
        // A tag that another property has as well is explained by neither.
        guess.Covers(
            alike.Count,
            Math.Min(
                alike.Count,
                alike.Count(p => !explains.Contains(p) && !explained(p)) + alike.Count(p => explains.Contains(p) && explained(p))
            )
        );
    }

    /// <summary>Whether a name has the numbers that all of those named have.</summary>
    private static bool IsOf(NameToken[] name, long[] low, long[] high)
    {
        for (var i = 0; i < name.Length; i++)
            if (name[i].IsNumber && low[i] == high[i] && name[i].Number != low[i])
                return false;
        return true;
    }

    private const int MostAlike = 20_000;
    private const double Dense = 0.3;
    private const double MoreThanAll = 1.5;

    /// <summary>Of rules that were made from one example one is right at most: the likeliest, and the others as much less as they are less
    /// likely.</summary>
    public static void Compare(IReadOnlyCollection<RuleGuess> guesses)
    {
        foreach (var rivals in guesses.Where(g => !g.IsKept).GroupBy(g => (g.Face, g.Example)))
        {
            var chance = ChanceAmong(rivals);
            var said = rivals.Where(g => !rivals.Any(r => Outdoes(r, g))).Select(g => (Guess: g, Likely: g.Beside(chance))).ToArray();
            var (best, trust) = (said.MaxBy(g => g.Likely), rivals.Max(g => g.Trust));
            foreach (var guess in rivals.Except(said.Select(g => g.Guess)))
                (guess.Share, guess.Trust) = (0, 0);
            var sum = said.Sum(g => Math.Exp(g.Likely - best.Likely));
            foreach (var (guess, likely) in said)
                guess.Share = Math.Exp(likely - best.Likely) / sum;
            foreach (var (guess, likely) in said)
                guess.Trust =
                    (guess.IsAlone ? Alone : 1)
                    * (
                        guess == best.Guess
                            ? Math.Max(trust, WhereBorne * guess.Borne)
                            : guess.Trust * Math.Exp(Math.Max(likely - best.Likely, LeastLikely))
                    );
        }
    }

    /// <summary>How often a tag is called by chance as one of some rules calls one; one that finds fewer than that does not go where the
    /// others do, and says nothing of them.</summary>
    private static double ChanceAmong(IEnumerable<RuleGuess> rivals) =>
        rivals
            .Where(g => g.Near.Values.Sum(n => n.Found) >= g.Chance * g.Near.Values.Sum(n => n.Of))
            .Select(g => g.Chance)
            .DefaultIfEmpty(MostByChance)
            .Max();

    /// <summary>Whether a rule names all that another made from the same example does, and more, with the same numbers or some of them:
    /// that there are tags called STROM in the North is no chance, if the ST is to be the South's; nor are tags of DB21 in line 2, if the
    /// 21 is to be reckoned from line 1.</summary>
    private static bool Outdoes(RuleGuess rule, RuleGuess other) =>
        rule.Claimed.Count >= other.Claimed.Count + LeastMore
        && AreAmong(rule.Counts, other.Counts)
        && other.Claimed.Keys.All(rule.Claimed.ContainsKey);

    private static bool AreAmong(string[] some, string[] all)
    {
        var found = 0;
        foreach (var one in all)
            if (found < some.Length && some[found] == one)
                found++;
        return found == some.Length;
    }

    private const int LeastMore = 2;
    private const double WhereBorne = 0.95;

    /// <summary>Says of each rule what part of the other properties is named alike: those of one template are named by one mind.</summary>
    public static void Sisters(IReadOnlyCollection<List<RuleGuess>> properties)
    {
        foreach (var face in Enum.GetValues<TagFace>())
        {
            var good = new Dictionary<string, int>(StringComparer.Ordinal);
            var having = 0;
            var own = new List<(RuleGuess[] Guesses, HashSet<string> Good)>();
            foreach (var guesses in properties)
            {
                var its = guesses.Where(g => g.Face == face && !g.IsKept).ToArray();
                if (its.Length == 0)
                    continue;
                having++;
                var signatures = new HashSet<string>(StringComparer.Ordinal);
                foreach (var made in its.GroupBy(g => g.Example))
                {
                    RuleGuess[] rivals = [.. made.Where(g => !made.Any(r => Outdoes(r, g)))];
                    var chance = ChanceAmong(rivals);
                    var best = rivals.Max(g => g.Beside(chance));
                    signatures.UnionWith(rivals.Where(g => g.Beside(chance) >= best - NearlyAsGood).Select(g => g.Signature));
                }
                own.Add((its, signatures));
                foreach (var signature in signatures)
                    good[signature] = good.GetValueOrDefault(signature) + 1;
            }
            foreach (var (guesses, signatures) in own)
            foreach (var guess in guesses)
            {
                var alike = good.GetValueOrDefault(guess.Signature) - (signatures.Contains(guess.Signature) ? 1 : 0);
                guess.Sisters = having < 2 ? 0 : alike / (double)(having - 1);
                guess.IsAlone = having > FewSisters && alike <= (having - 1) / OneIn && guess.Pattern.Reckoned > 0;
            }
        }
    }

    private const int FewSisters = 2;
    private const int OneIn = 5;
    private const double Alone = 0.6;
    private const double NearlyAsGood = 3;
    private const double LeastLikely = -6;

    // Weak alone may be strong with its sisters: only what is nothing goes.
    private const double LeastKept = 0.02;

    /// <summary>How often there is a tag called as a rule calls one, with numbers that no instance has: of those between its numbers, or
    /// just beyond them where it leaves none out.</summary>
    private double ChanceOf(RuleGuess guess, IReadOnlyList<InstanceNames> all)
    {
        if (guess.Pattern.NamesPart)
            return MostByChance;
        var some = all.Count <= MostSampled ? all : [.. Enumerable.Range(0, MostSampled).Select(i => all[i * all.Count / MostSampled])];
        var counted = (Asked: 0.0, There: 0.0);
        foreach (var varied in guess.Pattern.Pieces.OfType<NumberPiece>().Where(p => !p.Terms.IsEmpty))
        {
            var held = all.Select(i => varied.ValueFor(i)).OfType<long>().ToHashSet();
            if (held.Count == 0)
                continue;
            // Between the numbers there are of tags called alike, and between those the rule could come to.
            var (tags, own) = (ApartOf(guess, varied), Math.Max(1, held.Aggregate(0L, (step, v) => Divisor(step, v - held.Min()))));
            var one = Decoys(guess, varied, some, held, tags);
            var other = own == tags ? one : Decoys(guess, varied, some, held, own);
            var (asked, there) = other.There * one.Asked > one.There * other.Asked ? other : one;
            counted = (counted.Asked + asked, counted.There + there);
        }
        // Words are hit by chance no more than a number no tag has.
        if (counted.Asked == 0 && guess.Pattern.FollowsName)
            counted.Asked = some.Count;
        return Math.Clamp((counted.There + LeastByChance) / (counted.Asked + 1), LeastByChance / 10, MostByChance);
    }

    /// <summary>For how many instances a tag was looked for with a number none of them has, and for how many there is one.</summary>
    private (double Asked, double There) Decoys(
        RuleGuess guess,
        NumberPiece varied,
        IReadOnlyList<InstanceNames> some,
        HashSet<long> held,
        long apart
    )
    {
        var (asked, there) = (0.0, 0.0);
        var (low, high) = (held.Min(), held.Max());
        Span<char> room = stackalloc char[256];
        var others = Between(low, high, apart).Where(v => !held.Contains(v)).Take(MostDecoys).ToArray();
        // What only counts instances and leaves no number out would as well fit whatever lies there in a row.
        if (others.Length == 0 && !guess.Pattern.FollowsName)
            (asked, there) = (some.Count, some.Count / 2);
        if (others.Length == 0)
            others = [.. Enumerable.Range(1, MostDecoys).Select(i => high + i * apart)];
        for (var i = 0; i < some.Count; i++)
        {
            var key = new KeyWriter(room);
            var whole = true;
            foreach (var piece in guess.Pattern.Pieces)
                if (ReferenceEquals(piece, varied))
                    key.Add(others[i % others.Length]);
                else
                    whole &= piece.Write(some[i], ref key);
            if (!whole)
                continue;
            asked++;
            if (lexicon.Has(guess.Face, key.Key))
                there++;
        }
        return (asked, there);
    }

    /// <summary>What the numbers of tags called alike lie apart: only between those can there be one by chance.</summary>
    private long ApartOf(RuleGuess guess, NumberPiece varied)
    {
        if (guess.Example is not { } example || varied.ValueFor(example.Instance) is not { } value)
            return 1;
        var tokens = lexicon.Tokens[(int)guess.Face];
        var at = Array.FindIndex(tokens[example.Position], t => t.IsNumber && t.Number == value);
        if (at < 0)
            return 1;
        var apart = 0L;
        foreach (var position in lexicon.Shaped(guess.Face, example.Position).Take(MostLattice))
            apart = Divisor(apart, tokens[position][at].Number - value);
        return Math.Max(1, apart);
    }

    /// <summary>The greatest number that divides both; 0 divides nothing and leaves the other.</summary>
    internal static long Divisor(long one, long other)
    {
        while (other != 0)
            (one, other) = (other, one % other);
        return Math.Abs(one);
    }

    private const int MostLattice = 500;

    /// <summary>Numbers between two, so far apart, spread over all of them where there are many.</summary>
    private static IEnumerable<long> Between(long low, long high, long apart)
    {
        var width = (high - low) / apart + 1;
        var step = 1L;
        if (width > 4 * MostDecoys)
            // A stride that falls in with no step there is.
            step = (long)(width * GoldenSection) | 1;
        for (var i = 0L; i < Math.Min(width, 4 * MostDecoys); i++)
            yield return low + (step == 1 ? i : i * step % width) * apart;
    }

    private const int MostDecoys = 60;
    private const double LeastByChance = 0.1;
    private const double MostByChance = 0.95;

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
            // Those beside the example first.
            return example is null ? others : [.. others.OrderByDescending(o => Nearness(example, o))];
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
