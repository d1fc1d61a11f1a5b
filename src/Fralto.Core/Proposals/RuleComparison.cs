using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>Weighs rules against each other: those made from one example, of which one is right at most, and those of other properties, as
/// one template's are named by one mind.</summary>
internal static class RuleComparison
{
    private const int MostKept = 5;

    // Weak alone may be strong with its sisters: only what is nothing goes.
    private const double LeastKept = 0.02;
    private const int LeastMore = 2;
    private const double WhereBorne = 0.95;
    private const double HardlyRivalled = 0.9;
    private const int FewSisters = 2;
    private const int OneIn = 5;
    private const double Alone = 0.6;
    private const double NearlyAsGood = 3;
    private const double LeastLikely = -6;

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
            var together = Together(properties, face);
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
                            // With its sisters a rule may name most, each tag once, that by itself finds fewer than others do.
                            .. own.Where(g => g.Hits > 0 && together.Contains((g.Example!.Instance, g.Signature)))
                                .GroupBy(g => (g.Example, g.Signature))
                                .Select(e => e.MaxBy(g => g.Score)!),
                            // What is written as it is said is compared, however few are called so.
                            .. own.Where(g => g.Hits > 0 && g.Pattern.IsSaid).GroupBy(g => g.Example).Select(e => e.MaxBy(g => g.Prior)!),
                            // And what goes by the number of the instance beside what goes by where it stands.
                            .. own.Where(g => g.Hits > 0 && g.Pattern is { NamesInstance: true, Positions: 0 })
                                .GroupBy(g => g.Example)
                                .SelectMany(e => new[] { e.MaxBy(g => g.Score)!, e.MaxBy(g => g.Prior)! }),
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

    /// <summary>What rules follow that together name most tags, each once, for each instance they were made from.</summary>
    private static HashSet<(InstanceNames, string)> Together(IReadOnlyCollection<List<RuleGuess>> properties, TagFace face)
    {
        var ways = new Dictionary<(InstanceNames Instance, string Signature), (int Sisters, Dictionary<int, int> Times)>();
        foreach (var guesses in properties)
        foreach (
            var made in guesses
                .Where(g => g is { IsKept: false, Example: not null, Hits: > 0 } && g.Face == face)
                .GroupBy(g => (g.Example!.Instance, g.Signature))
        )
        {
            var (sisters, times) = ways.GetValueOrDefault(made.Key, (0, []));
            foreach (var position in made.MaxBy(g => g.Score)!.Found)
                times[position] = times.GetValueOrDefault(position) + 1;
            ways[made.Key] = (sisters + 1, times);
        }
        return
        [
            .. ways.Where(w => w.Value.Sisters >= LeastMore)
                .GroupBy(w => w.Key.Instance)
                .SelectMany(w => w.OrderByDescending(x => x.Value.Times.Values.Sum(t => t == 1 ? 1 : -1)).Take(MostTogether))
                .Select(w => w.Key),
        ];
    }

    private const int MostTogether = 2;

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
            // Those that give the same tags to the same instances are no rivals, and as good as the best of them.
            var same = said.Select(s => s.Guess).Where(g => GivesTheSame(g, best.Guess)).ToHashSet();
            var asGood = same.Sum(g => g.Share);
            foreach (var (guess, likely) in said)
                guess.Trust =
                    (guess.IsAlone ? Alone : 1)
                    * (
                        same.Contains(guess)
                            ? Math.Max(
                                trust + Math.Max(0, WhereBorne - trust) * (asGood >= HardlyRivalled ? guess.Joint : 0),
                                WhereBorne * guess.Borne
                            )
                            : guess.Trust * Math.Exp(Math.Max(likely - best.Likely, LeastLikely))
                    );
        }
    }

    private static bool GivesTheSame(RuleGuess rule, RuleGuess other) =>
        rule == other
        || (
            rule.Claimed.Count == other.Claimed.Count
            && rule.Claimed.All(c => other.Claimed.TryGetValue(c.Key, out var owner) && owner == c.Value)
        );

    /// <summary>How often a tag is called by chance as one of some rules calls one; one that finds fewer than that does not go where the
    /// others do, and says nothing of them.</summary>
    private static double ChanceAmong(IEnumerable<RuleGuess> rivals) =>
        rivals
            .Where(g => g.Near.Values.Sum(n => n.Found) >= g.Chance * g.Near.Values.Sum(n => n.Of))
            .Select(g => g.Chance)
            .DefaultIfEmpty(ChanceHits.MostByChance)
            .Max();

    /// <summary>Whether a rule names all that another made from the same example does, and more: with the same numbers or some of them, for
    /// that there are tags called STROM in the North is no chance, if the ST is to be the South's, nor are tags of DB21 in line 2, if the
    /// 21 is to be reckoned from line 1; or where the other names only what is called as its example is, at another site; or so much
    /// more that nothing called so is left, of which the other leaves some.</summary>
    private static bool Outdoes(RuleGuess rule, RuleGuess other) =>
        (
            (rule.Claimed.Count >= other.Claimed.Count + LeastMore && AreAmong(rule.Counts, other.Counts))
            || (rule.Claimed.Count >= other.Claimed.Count + LeastMore && other.NamesOnlyAlike && !rule.NamesOnlyAlike)
            || (rule is { NamesAll: true, IsSupposed: false } && rule.Claimed.Count > other.Claimed.Count && !other.Pattern.IsSaid)
        ) && other.Claimed.Keys.All(rule.Claimed.ContainsKey);

    private static bool AreAmong(string[] some, string[] all)
    {
        var found = 0;
        foreach (var one in all)
            if (found < some.Length && some[found] == one)
                found++;
        return found == some.Length;
    }

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
}
