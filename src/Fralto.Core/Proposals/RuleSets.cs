using Fralto.Core.NamingRules;

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
    private const double FewOfWhole = 0.05;
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
            var made in rules
                .Where(r => r.Rule is { IsKept: false, Example: not null } && !r.Rule.Pattern.NamesPart)
                .GroupBy(r => (r.Rule.Face, r.Rule.Example!.Instance.Instance.Id))
        )
        {
            var sets = made.GroupBy(r => r.Rule.Signature).Select(s => new RuleSet([.. s], matrix.Instances)).ToArray();
            var leavingNone = sets.Where(s => s.IsJoint && !s.Sisters.All(r => r.IsComposed) && IsWhole(s, known)).ToArray();
            // What names but some of what another does leaves the rest.
            var whole = leavingNone.Where(s => !leavingNone.Any(s.IsPartOf)).ToArray();
            // And what cuts through units, some of this one and some of the next for each, does not reckon where they begin.
            var most = whole.Select(s => s.Complete).DefaultIfEmpty().Max();
            whole = [.. whole.Where(s => s.Complete >= NearlyAsComplete * most)];
            foreach (var set in sets)
            {
                // Where there is another way to leave nothing, it says of neither that it is meant.
                var (joint, filled) = Worth(set, known, whole.Contains(set) && whole.All(set.GivesAs));
                filled = Math.Min(filled, SlotsFilled(set.Sisters, known));
                foreach (var rule in set.Rules)
                    (rule.Joint, rule.Filled) = (joint, filled);
                // Who reckons so for one property does so for all: where the others say it does not hold, it holds for none.
                if (joint < Believed && !set.IsSaid && set.Sisters.Length >= FewestRules && set.Sisters.Average(s => s.Odds) < 0)
                    foreach (var rule in set.Rules.Where(r => r.Odds > 0 && !r.Pattern.FollowsName))
                        rule.Trust *= WorthAlone;
            }
        }
    }

    /// <summary>Rules of several properties that were made from the same instance and follow the same.</summary>
    private sealed class RuleSet
    {
        public RuleSet((long Property, RuleGuess Rule)[] rules, InstanceNames[] all)
        {
            Rules = [.. rules.Select(r => r.Rule)];
            Cells = all.Length * rules.Select(r => r.Property).Distinct().Count();
            Sisters = [.. rules.GroupBy(r => r.Property).Select(g => g.MaxBy(r => r.Rule.Score).Rule)];
            foreach (var position in Sisters.SelectMany(s => s.Claimed.Keys))
                Times[position] = Times.GetValueOrDefault(position) + 1;
            Instances = Sisters.Max(s => s.Claimed.Count);
            _isOfTheOnlyOther = Instances == 1 && IsOfTheOnlyOther(all);
        }

        public RuleGuess[] Rules { get; }

        /// <summary>How many tags the properties can have.</summary>
        public int Cells { get; }

        /// <summary>Of each property the best.</summary>
        public RuleGuess[] Sisters { get; }

        /// <summary>How many of them name each tag.</summary>
        public Dictionary<int, int> Times { get; } = [];

        /// <summary>For how many instances they find tags.</summary>
        public int Instances { get; }

        /// <summary>Whether another set gives each tag that both name to the same instance.</summary>
        public bool GivesAs(RuleSet other) =>
            other == this || Claims.All(c => !other.Claims.TryGetValue(c.Key, out var its) || its == c.Value);

        /// <summary>Of the properties of the instances it finds something for, the part it finds.</summary>
        public double Complete => Claims.Count / (double)(Sisters.Length * Math.Max(1, Claims.Values.Distinct().Count()));

        /// <summary>Whether another set names all that this does, and for more instances.</summary>
        public bool IsPartOf(RuleSet other) => other.Instances > Instances && Times.Keys.All(other.Times.ContainsKey);

        private Dictionary<int, InstanceNames> Claims =>
            _claims ??= Sisters.SelectMany(s => s.Claimed).DistinctBy(c => c.Key).ToDictionary(c => c.Key, c => c.Value);

        private Dictionary<int, InstanceNames>? _claims;

        /// <summary>Whether they are enough to be judged together.</summary>
        public bool IsJoint =>
            Sisters.Length >= FewestRules && ((Times.Count >= FewestTags && Instances >= FewestInstances) || IsOneEnough);

        /// <summary>Whether there is but one other instance, in all or where the one that was shown stands: what is left is its, or
        /// nobody's; or one is called so that says what it is.</summary>
        private bool IsOneEnough => Instances == 1 && (IsSaid || _isOfTheOnlyOther);

        private readonly bool _isOfTheOnlyOther;

        private bool IsOfTheOnlyOther(InstanceNames[] all)
        {
            var shown = Sisters[0].Example!.Instance.Instance;
            return Sisters.All(s => s.Near.Values.Sum(n => n.Of) == 1)
                || (
                    Sisters.All(s => !s.IsSupposed)
                    && all.Count(i => i.Instance.ParentId == shown.ParentId && i.Instance.Id != shown.Id) == 1
                    && Sisters.All(s => s.Claimed.Values.All(i => i.Instance.ParentId == shown.ParentId))
                );
        }

        /// <summary>Whether they say what instances are called: that is no way found among many.</summary>
        public bool IsSaid => Sisters.All(s => s.Pattern.IsSaid && s.Chance < Seldom);

        private const double Seldom = 0.1;
    }

    private (double Joint, double Filled) Worth(RuleSet set, HashSet<int> known, bool isWhole)
    {
        var (sisters, times, instances, isJoint) = (set.Sisters, set.Times, set.Instances, set.IsJoint);
        var hops = sisters.Any(s => BlocksOf(s).Count > 0);
        if (!hops && !isJoint)
            return (0, 1);
        var (named, there) = (0, 0);
        var seen = new HashSet<int>();
        foreach (var sister in sisters)
        foreach (var position in Around(sister).Concat(Beyond(sister, set.Cells)))
            if (seen.Add(position) && (times.ContainsKey(position) || (isFree(position) && !known.Contains(position))))
            {
                there++;
                if (times.GetValueOrDefault(position) == 1)
                    named++;
            }
        var filled = hops && there > 0 ? (double)named / there : 1;
        if (!isJoint || there == 0)
            return (0, filled);
        // One that the property cannot have is called wrong.
        var misfits = Math.Max(0.0, sisters.Sum(s => s.Misfits) - 1) / sisters.Sum(s => s.Claimed.Count);
        var contested = (double)sisters.Sum(s => s.Confused) / sisters.Sum(s => Math.Max(1, s.Near.Values.Sum(n => n.Of)));
        // What holds for few of all was found among many ways.
        var share = (double)instances / sisters.Max(s => Math.Max(1, s.Near.Values.Sum(n => n.Of)));
        var joint =
            (
                set.IsSaid ? 1
                : isWhole ? Math.Clamp((share - FewOfWhole) / (FewNamed - FewOfWhole), 0, 1)
                : Math.Clamp((share - FewNamed) / (ManyNamed - FewNamed), 0, 1)
            )
            * Math.Clamp(((double)named / there - BadlyCovered) / (WellCovered - BadlyCovered), 0, 1)
            * Math.Max(
                isWhole ? WorthOfWhole : 0,
                Math.Min(1, (double)(times.Count - FewestTags) / (ManyTags - FewestTags))
                    * Math.Min(1, (double)(instances - FewestInstances + 1) / (ManyInstances - FewestInstances + 1))
            )
            * Math.Max(0, 1 - EachMisfit * misfits)
            * Math.Max(0, 1 - EachContested * contested);
        return (joint, filled);
    }

    private const double Believed = 0.5;
    private const double WorthAlone = 0.4;
    private const double NearlyAsComplete = 0.8;

    /// <summary>What it means that nothing at all is left, however little there is.</summary>
    private const double WorthOfWhole = 0.8;

    /// <summary>Whether the rules name whatever is called like their examples, wherever it lies, each tag once.</summary>
    private bool IsWhole(RuleSet set, HashSet<int> known) =>
        set.Sisters.All(sister =>
        {
            var shaped = lexicon.Lettered(sister.Face, sister.Example!.Position);
            if (shaped.Count > MostAlike)
                return false;
            var common = new CommonMarks(lexicon.Tokens[(int)sister.Face], sister.Example.Position, sister.Claimed.Keys);
            return shaped.All(p => set.Times.GetValueOrDefault(p) == 1 || !isFree(p) || known.Contains(p) || !common.AreIn(p));
        });

    /// <summary>Of what lies in the slots that rules reckon for the units, from the first number of a unit to that of the next, the part
    /// that they name: 1 where they reckon none, or slots of a few.</summary>
    /// <remarks>Every thousandth of registers that lie side by side is nobody's.</remarks>
    private double SlotsFilled(RuleGuess[] sisters, HashSet<int> known)
    {
        var (named, there) = (0, 0);
        foreach (var alike in sisters.GroupBy(s => lexicon.Shaped(s.Face, s.Example!.Position)))
        {
            var reckoned = alike.Select(s => (Rule: s, Number: Reckoned(s))).Where(r => r.Number is not null).ToArray();
            if (reckoned.Length == 0)
                continue;
            var first = reckoned.Min(r => r.Number!.Offset);
            var width = reckoned.Min(r => r.Number!.Terms.Min(t => t.Times));
            if (width < LeastOfSlot)
                continue;
            var claimed = alike.SelectMany(s => s.Claimed.Keys).ToHashSet();
            var any = reckoned[0].Rule;
            // Where slots begin, block by block: what other blocks hold at the same numbers is of others.
            var starts = reckoned
                .SelectMany(r =>
                    r.Rule.Claimed.Keys.Select(p => (Block: BlockOf(any, p), At: LastNumber(any.Face, p) - (r.Number!.Offset - first)))
                )
                .GroupBy(s => s.Block, s => s.At)
                .ToDictionary(g => g.Key, g => g.Distinct().Order().ToArray(), StringComparer.Ordinal);
            foreach (var position in alike.Key.Take(MostAlike))
            {
                if (known.Contains(position) || !starts.TryGetValue(BlockOf(any, position), out var begun))
                    continue;
                var number = LastNumber(any.Face, position);
                var at = Array.BinarySearch(begun, number);
                var before = at >= 0 ? at : ~at - 1;
                if (before < 0 || number >= begun[before] + width)
                    continue;
                if (claimed.Contains(position))
                    (named, there) = (named + 1, there + 1);
                else if (isFree(position))
                    there++;
            }
        }
        // What parts of a unit have lies in its slot too.
        return there == 0 || named >= LeastOfIts * there ? 1 : (double)named / there;
    }

    private const int LeastOfSlot = 5;
    private const double LeastOfIts = 0.2;

    /// <summary>The number a rule reckons, where it is the only one and no other stands after it.</summary>
    private static NumberPiece? Reckoned(RuleGuess rule)
    {
        var pieces = rule.Pattern.Pieces;
        if (pieces.OfType<NumberPiece>().Where(n => !n.Terms.IsEmpty).ToArray() is not [var only])
            return null;
        return pieces.Skip(pieces.IndexOf(only) + 1).All(p => p is FixedPiece @fixed && !@fixed.Text.Any(char.IsDigit)) ? only : null;
    }

    private long LastNumber(TagFace face, int position)
    {
        var its = lexicon.Tokens[(int)face][position];
        return Array.FindLastIndex(its, t => t.IsNumber) is >= 0 and var at ? its[at].Number : -1;
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

    /// <summary>The tags that lie without a gap before the first of an array that a rule names and behind the last: an array of one kind
    /// is not begun in its midst.</summary>
    private List<int> Beyond(RuleGuess rule, int cells)
    {
        if (Reckoned(rule) is not { } reckoned)
            return [];
        var alike = lexicon.Lettered(rule.Face, rule.Example!.Position);
        if (alike.Count > MostAlike || alike.Count > ForOneKind * cells)
            return [];
        var step = reckoned.Terms.Min(t => t.Times);
        var common = new CommonMarks(lexicon.Tokens[(int)rule.Face], rule.Example.Position, rule.Claimed.Keys);
        var found = new List<int>();
        foreach (var block in alike.Where(common.AreIn).GroupBy(p => BlockOf(rule, p)))
        {
            var its = block.Select(p => (At: LastNumber(rule.Face, p), Position: p)).OrderBy(p => p.At).ToArray();
            var named = Enumerable.Range(0, its.Length).Where(i => rule.Claimed.ContainsKey(its[i].Position)).ToArray();
            if (named.Length == 0)
                continue;
            for (var i = named[0] - 1; i >= 0 && its[i + 1].At - its[i].At <= step; i--)
                found.Add(its[i].Position);
            for (var i = named[^1] + 1; i < its.Length && its[i].At - its[i - 1].At <= step; i++)
                found.Add(its[i].Position);
        }
        return found;
    }

    private const double ForOneKind = 1.5;

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
        var common = new CommonMarks(tokens, rule.Example.Position, named);
        foreach (var position in lexicon.Lettered(rule.Face, rule.Example.Position).Take(MostAlike))
        {
            var its = tokens[position];
            var within = blocks.Count > 0 && blocks.Contains(BlockOf(rule, position));
            if (!within)
            {
                within = common.AreIn(position);
                for (var i = 0; i < its.Length && within; i++)
                    within = !its[i].IsNumber || (its[i].Number >= low[i] && its[i].Number <= high[i]);
            }
            if (within)
                yield return position;
        }
    }
}
