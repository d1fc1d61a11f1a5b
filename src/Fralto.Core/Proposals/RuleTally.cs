using Fralto.Core.Basics;
using Fralto.Core.NamingRules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>Asks all instances of the rules that were chosen: how many find a tag, whose those are, and what they leave without an
/// owner.</summary>
/// <param name="lexicon">All tags.</param>
/// <param name="isFree">Whether a tag, or part of one, feeds nothing yet.</param>
/// <param name="controllers">Which controllers are called after which places; null where there is but one.</param>
internal sealed class RuleTally(TagLexicon lexicon, Func<int, Slice?, bool> isFree, ControllerNames? controllers)
{
    private const double UsuallyFound = 3;
    private const double UsuallyMissing = 0.5;
    private const double Few = 0.5;
    private const int MostAlike = 20_000;
    private const double Dense = 0.3;
    private const double MoreThanAll = 1.5;

    private readonly ChanceHits _chance = new(lexicon);

    /// <summary>Asks all instances of a rule that was chosen, those most like its example first as each tag counts once, and keeps how it
    /// holds in each group of them.</summary>
    public void Count(RuleGuess guess, IReadOnlyList<InstanceNames> all, IReadOnlyList<Example> examples, Func<int, Slice?, bool> fits)
    {
        var taken = new Dictionary<(int, Slice?), InstanceNames>();
        // Nobody has bound the tag that a supposed rule was made from: it is that instance's all the same.
        if (guess is { IsSupposed: true, IsBeside: false, Example: { } supposed })
            taken[(supposed.Position, supposed.Slice)] = supposed.Instance;
        var bound = examples.ToDictionary(e => e.Instance.Instance.Id);
        Span<char> room = stackalloc char[256];
        var (found, of) = (0.0, 0);
        var ordered = guess.Example is { } example
            ? all.OrderByDescending(i => i.Instance.PartId == example.Instance.Instance.PartId)
                .ThenByDescending(i => InstanceSample.Nearness(example.Instance, i))
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
            // What another controller has is of other places, whoever wants it here.
            if (hit == 0 && whole && !guess.Pattern.NamesPart)
                foreach (var position in lexicon.With(guess.Face, key.Key))
                    if (
                        taken.TryGetValue((position, slice), out var holder)
                        && (controllers?.For(one) is not { } own || lexicon.Tags[position].ControllerId == own)
                    )
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
        // What says the number as it is may be one of two contractors', who took turns.
        guess.Leaps = guess is { Example: { } from, Pattern.IsSaid: false }
            ? InstanceSample.Leaps(all, guess.Claimed.Values.Append(from.Instance).ToHashSet())
            : 0;
        guess.Described =
            guess.Claimed.Keys.Count(p => lexicon.Tokens[(int)TagFace.Description][p].Length > 0) / Math.Max(1.0, guess.Claimed.Count);
        guess.NamesOnlyAlike = guess is { Example: { } shown, Claimed.Count: > 0 } && AreAlike(guess, shown);
        guess.Counted(_chance.Of(guess, all));
        AskPlainly(guess, all, bound);

        double Claim(int position, Slice? slice, InstanceNames one)
        {
            taken.TryAdd((position, slice), one);
            guess.Claimed[position] = one;
            if (fits(position, slice))
                return 1;
            guess.Misfits++;
            return 0.35;
        }
    }

    /// <summary>Whether all that a rule names is called as its example is, or has the same numbers where it reckons them.</summary>
    private bool AreAlike(RuleGuess guess, Example shown)
    {
        NumberPiece[] reckoned = [.. guess.Pattern.Pieces.OfType<NumberPiece>().Where(n => !n.Terms.IsEmpty)];
        if (reckoned.Length > 0 && guess.Claimed.Values.All(i => reckoned.All(n => n.ValueFor(i) == n.ValueFor(shown.Instance))))
            return true;
        var names = lexicon.Tokens[(int)guess.Face];
        var called = NameToken.KeyOf(names[shown.Position]);
        return guess.Claimed.Keys.All(p => NameToken.KeyOf(names[p]) == called);
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
    /// <param name="instances">How many instances it has.</param>
    public void Cover(RuleGuess guess, Func<int, bool> explained, int cells, int instances)
    {
        if (guess.Pattern.NamesPart || guess.Claimed.Count == 0 || guess.IsKept)
            return;
        var tokens = lexicon.Tokens[(int)guess.Face];
        var (alike, explains) = (new HashSet<int>(), new HashSet<int>(guess.Claimed.Keys));
        KeptDigits[] kept = [.. guess.Pattern.Pieces.OfType<NumberPiece>().Select(KeptDigits.Of).OfType<KeptDigits>()];
        string Shape(int position) => string.Join(' ', tokens[position].Select(t => t.IsNumber ? "#" : t.Text));
        // What other kinds of equipment are called may look the same; it lies in other numbers.
        foreach (var like in guess.Claimed.GroupBy(c => (c.Value.Group, Shape(c.Key)), c => c.Key))
        {
            var some = like.ToArray();
            var (low, high) = (
                tokens[some[0]].Select((_, i) => some.Min(s => tokens[s][i].Number)).ToArray(),
                tokens[some[0]].Select((_, i) => some.Max(s => tokens[s][i].Number)).ToArray()
            );
            // What stands between the steps is of something else; where numbers run close together it may be of anything.
            var steps = tokens[some[0]]
                .Select((_, i) => some.Aggregate(0L, (step, s) => NumberRuns.Divisor(step, tokens[s][i].Number - low[i])))
                .ToArray();
            // Of 1305 and 2307 the 3 stays as it is, as a word does.
            var between = tokens[some[0]].Select((_, i) => kept.FirstOrDefault(k => some.All(s => k.IsIn(tokens[s][i].Number)))).ToArray();
            var shaped = lexicon.Shaped(guess.Face, some[0]);
            // Of registers of the whole plant most are of other equipment, which lies elsewhere among them.
            var isDense = guess.Chance > Dense;
            var isShared =
                isDense
                && shaped.Count > MoreThanAll * cells
                && shaped.Take(MostAlike).Count(new CommonMarks(tokens, some[0], some).AreIn) > MoreThanAll * cells;
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
        guess.NamesAll = NamesAll(guess, explains, instances);
        // A tag that another property has as well is explained by neither.
        guess.Covers(
            alike.Count,
            Math.Min(
                alike.Count,
                alike.Count(p => !explains.Contains(p) && !explained(p)) + alike.Count(p => explains.Contains(p) && explained(p))
            )
        );
    }

    /// <summary>Whether a rule names all tags called like its example, in the numbers that are the same in all it names too, and these are
    /// no more than there are instances.</summary>
    private bool NamesAll(RuleGuess guess, HashSet<int> named, int instances)
    {
        if (guess.Example is not { } example)
            return false;
        var common = new CommonMarks(lexicon.Tokens[(int)guess.Face], example.Position, named);
        var there = 0;
        foreach (var position in lexicon.Lettered(guess.Face, example.Position))
            if (
                position != example.Position
                && common.AreIn(position)
                && (named.Contains(position) ? ++there > instances : isFree(position, null))
            )
                return false;
        return there > 0;
    }
}
