using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>How often a rule would find a tag by chance.</summary>
/// <param name="lexicon">All tags.</param>
internal sealed class ChanceHits(TagLexicon lexicon)
{
    /// <summary>What a rule finds by chance where nothing can be asked.</summary>
    internal const double MostByChance = 0.95;

    private const double LeastByChance = 0.1;
    private const int MostDecoys = 60;
    private const int MostLattice = 500;

    /// <summary>How often there is a tag called as a rule calls one, with numbers that no instance has: of those between its numbers, or
    /// just beyond them where it leaves none out.</summary>
    public double Of(RuleGuess guess, IReadOnlyList<InstanceNames> all)
    {
        if (guess.Pattern.NamesPart)
            return MostByChance;
        var some =
            all.Count <= InstanceSample.Most
                ? all
                : [.. Enumerable.Range(0, InstanceSample.Most).Select(i => all[i * all.Count / InstanceSample.Most])];
        var counted = (Asked: 0.0, There: 0.0);
        foreach (var varied in guess.Pattern.Pieces.OfType<NumberPiece>().Where(p => !p.Terms.IsEmpty))
        {
            var held = all.Select(i => varied.ValueFor(i)).OfType<long>().ToHashSet();
            if (held.Count == 0)
                continue;
            // Between the numbers there are of tags called alike, and between those the rule could come to.
            var (tags, own) = (
                ApartOf(guess, varied),
                Math.Max(1, held.Aggregate(0L, (step, v) => NumberRuns.Divisor(step, v - held.Min())))
            );
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
            apart = NumberRuns.Divisor(apart, tokens[position][at].Number - value);
        return Math.Max(1, apart);
    }

    /// <summary>Numbers between two, so far apart, spread over all of them where there are many.</summary>
    private static IEnumerable<long> Between(long low, long high, long apart)
    {
        var width = (high - low) / apart + 1;
        var step = 1L;
        if (width > 4 * MostDecoys)
            // A stride that falls in with no step there is.
            step = (long)(width * InstanceSample.GoldenSection) | 1;
        for (var i = 0L; i < Math.Min(width, 4 * MostDecoys); i++)
            yield return low + (step == 1 ? i : i * step % width) * apart;
    }
}
