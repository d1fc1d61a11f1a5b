namespace Fralto.Core.Proposals;

/// <summary>Judges the rules of a template's properties together: rules that follow the same and were made from the same instance are one
/// way of naming, and where they name every tag there is, each once, they are hardly so by chance, however few each of them
/// finds.</summary>
internal sealed class RuleSets(TagLexicon lexicon, Func<int, bool> isFree)
{
    private const int FewestRules = 2;
    private const int FewestTags = 4;
    private const int ManyTags = 16;
    private const int FewestInstances = 2;
    private const int ManyInstances = 5;
    private const double WellCovered = 0.95;
    private const double BadlyCovered = 0.85;
    private const double EachMisfit = 5;
    private const double EachContested = 4;
    private const double FewNamed = 0.15;
    private const double ManyNamed = 0.3;
    private const int MostAlike = 20_000;
    private const int LeastOfBlock = 12;

    /// <summary>Says of each rule how well those that belong together name what there is.</summary>
    /// <param name="matrix">The template, its rules counted.</param>
    public void Judge(TemplateMatrix matrix)
    {
        var known = matrix.Examples.Values.SelectMany(e => e).Select(e => e.Position).ToHashSet();
        var rules = matrix.Properties.SelectMany(p => matrix.Guesses[p.Id].Select(g => (Property: p.Id, Rule: g)));
        foreach (
            var set in rules
                .Where(r => r.Rule is { IsKept: false, Example: not null } && !r.Rule.Pattern.NamesPart)
                .GroupBy(r => (r.Rule.Face, r.Rule.Example!.Instance.Instance.Id, r.Rule.Signature))
        )
        {
            RuleGuess[] sisters = [.. set.GroupBy(r => r.Property).Select(g => g.MaxBy(r => r.Rule.Score).Rule)];
            var (joint, filled) = Worth(sisters, known);
            foreach (var (_, rule) in set)
                (rule.Joint, rule.Filled) = (joint, filled);
        }
    }

    private (double Joint, double Filled) Worth(RuleGuess[] sisters, HashSet<int> known)
    {
        var times = new Dictionary<int, int>();
        foreach (var position in sisters.SelectMany(s => s.Claimed.Keys))
            times[position] = times.GetValueOrDefault(position) + 1;
        var instances = sisters.Max(s => s.Claimed.Count);
        var hops = sisters.Any(s => BlocksOf(s).Count > 0);
        var isJoint = sisters.Length >= FewestRules && times.Count >= FewestTags && instances >= FewestInstances;
        if (!hops && !isJoint)
            return (0, 1);
        var (named, there) = (0, 0);
        var seen = new HashSet<int>();
        foreach (var sister in sisters)
        foreach (var position in Around(sister))
            if (seen.Add(position) && (times.ContainsKey(position) || (isFree(position) && !known.Contains(position))))
            {
                there++;
                if (times.GetValueOrDefault(position) == 1)
                    named++;
            }
        var filled = hops && there > 0 ? (double)named / there : 1;
        if (!isJoint || there == 0)
            return (0, filled);
        var misfits = (double)sisters.Sum(s => s.Misfits) / sisters.Sum(s => s.Claimed.Count);
        var contested = (double)sisters.Sum(s => s.Confused) / sisters.Sum(s => Math.Max(1, s.Near.Values.Sum(n => n.Of)));
        // What holds for few of all was found among many ways.
        var share = (double)instances / sisters.Max(s => Math.Max(1, s.Near.Values.Sum(n => n.Of)));
        var joint =
            Math.Clamp((share - FewNamed) / (ManyNamed - FewNamed), 0, 1)
            * Math.Clamp(((double)named / there - BadlyCovered) / (WellCovered - BadlyCovered), 0, 1)
            * Math.Min(1, (double)(times.Count - FewestTags) / (ManyTags - FewestTags))
            * Math.Min(1, (double)(instances - FewestInstances + 1) / (ManyInstances - FewestInstances + 1))
            * Math.Max(0, 1 - EachMisfit * misfits)
            * Math.Max(0, 1 - EachContested * contested);
        return (joint, filled);
    }

    /// <summary>The blocks that a rule goes through as it counts, where there are several and much lies in each: what it names differs
    /// before the last number.</summary>
    private HashSet<string> BlocksOf(RuleGuess rule)
    {
        if (rule.Pattern.FollowsName)
            return [];
        var blocks = rule.Claimed.Keys.Append(rule.Example!.Position).Select(p => BlockOf(rule, p)).ToHashSet(StringComparer.Ordinal);
        return
            blocks.Count > 1
            && lexicon.Shaped(rule.Face, rule.Example.Position).Take(MostAlike).Count(p => blocks.Contains(BlockOf(rule, p)))
                >= LeastOfBlock * blocks.Count
            ? blocks
            : [];
    }

    /// <summary>The numbers of a name before the last.</summary>
    private string BlockOf(RuleGuess rule, int position)
    {
        var its = lexicon.Tokens[(int)rule.Face][position];
        return string.Join(' ', its.Take(Math.Max(0, Array.FindLastIndex(its, t => t.IsNumber))).Select(t => t.Number));
    }

    /// <summary>The tags that are called like those a rule names and lie between them; where it goes from block to block, as DB21.W172 and
    /// DB22.W172, all that lie in these blocks, for each is somebody's whole.</summary>
    private IEnumerable<int> Around(RuleGuess rule)
    {
        var tokens = lexicon.Tokens[(int)rule.Face];
        var own = tokens[rule.Example!.Position];
        int[] named = [.. rule.Claimed.Keys.Where(p => tokens[p].Length == own.Length), rule.Example.Position];
        var low = own.Select((_, i) => named.Min(n => tokens[n][i].Number)).ToArray();
        var high = own.Select((_, i) => named.Max(n => tokens[n][i].Number)).ToArray();
        var blocks = BlocksOf(rule);
        foreach (var position in lexicon.Shaped(rule.Face, rule.Example.Position).Take(MostAlike))
        {
            var its = tokens[position];
            var within = blocks.Count > 0 && blocks.Contains(BlockOf(rule, position));
            if (!within)
            {
                within = true;
                for (var i = 0; i < its.Length && within; i++)
                    within = !its[i].IsNumber || (its[i].Number >= low[i] && its[i].Number <= high[i]);
            }
            if (within)
                yield return position;
        }
    }
}
