using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>A naming rule that would explain the examples of a property, and how well the tags bear it out.</summary>
internal sealed class RuleGuess(TagFace face, NamePattern pattern, double prior, Func<string> signature)
{
    public TagFace Face => face;

    public NamePattern Pattern => pattern;

    /// <summary>How natural the rule is by itself, above 0 to 1.</summary>
    public double Prior => prior;

    /// <summary>What the rule follows and where in the name, without fixed text and offsets: the same for properties that are named
    /// alike.</summary>
    public string Signature => _signature ??= signature();

    /// <summary>The same wherever it stands.</summary>
    public string Follows => string.Join('|', Signature.Split('|').Select(s => s.Split(Where)[0]).Distinct());

    /// <summary>What parts what is followed from where that is.</summary>
    internal const char Where = '@';

    /// <summary>Places whose code or name it writes out, with the text: of what stands elsewhere it says nothing.</summary>
    public (TextPiece Piece, string Text)[] Named { get; init; } = [];

    /// <summary>How it counts, whatever its words follow: each number it reckons.</summary>
    public string[] Counts =>
        _counts ??= [
            .. pattern.Pieces.OfType<NumberPiece>().Select(n => $"{string.Join('+', n.Terms)}+{n.Offset}").Order(StringComparer.Ordinal),
        ];

    private string? _signature;
    private string[]? _counts;

    /// <summary>Writes the name it gives an instance.</summary>
    /// <param name="whole">False when it says nothing of the instance.</param>
    public void Write(InstanceNames instance, ref KeyWriter key, out bool whole)
    {
        foreach (var (piece, text) in Named)
            if (instance.TextOf(piece) != text)
            {
                whole = false;
                return;
            }
        pattern.Write(instance, ref key, out whole);
    }

    /// <summary>Whether it names a tag, or part of one, for an instance.</summary>
    public bool Names(InstanceNames instance, TagLexicon lexicon, int position, Slice? slice)
    {
        var key = new KeyWriter(stackalloc char[256]);
        Write(instance, ref key, out var whole);
        return whole && pattern.SliceFor(instance) == slice && lexicon.With(face, key.Key).Contains(position);
    }

    /// <summary>Instances looked at, and those for which a free tag is named so.</summary>
    public int Of { get; set; }

    public int Hits { get; set; }

    /// <summary>The tags it names for those it was tried on.</summary>
    public int[] Found { get; set; } = [];

    /// <summary>Part of the instances near the example for which the rule names a tag, 0 to 1.</summary>
    public double Support { get; set; }

    /// <summary>Examples the rule explains, and those it does not.</summary>
    public int Agreed { get; set; }

    public int Contradicted { get; set; }

    /// <summary>What the rule weighs against the other guesses for the same property.</summary>
    public double Score { get; set; }

    /// <summary>How far the rule can be trusted where it holds, 0 to 1.</summary>
    public double Trust { get; set; }

    /// <summary>How likely it is the one that is meant of those made from the same example: all of them together 1.</summary>
    public double Share { get; set; } = 1;

    /// <summary>The example it was made from; null for one that was kept.</summary>
    public Example? Example { get; set; }

    /// <summary>Part of all instances for which it names a free tag; of few instances, nearer to what is usual.</summary>
    public double Overall { get; set; } = 0.6;

    /// <summary>The same for each group of instances: tags found, instances.</summary>
    public Dictionary<(long PartId, long PlaceId), (double Found, int Of)> Near { get; } = [];

    /// <summary>How often a tag is called as the rule calls one where the rule says nothing: 0 where a name is like no other, 1 where there
    /// is a tag for every number.</summary>
    public double Chance { get; private set; } = 1;

    /// <summary>Keeps what was counted of all instances: only then it can be said how likely the rule holds.</summary>
    public void Counted(double chance) => (Chance, _odds) = (chance, null);

    /// <summary>Keeps how many tags are called like those it names, and how many of them nothing explains.</summary>
    public void Covers(int alike, int unexplained) => (Alike, Unexplained, _odds) = (alike, unexplained, null);

    /// <summary>How strong it is, 0 to 1.</summary>
    public double Strength => IsKept ? Trust : Trust * Together(Blend(Worth(Math.Max(Support, Overall)), Rightness(Overall)));

    /// <summary>How strong it is for an instance: a rule may hold in one place and not in another, and the fewer it holds for the less it
    /// is believed.</summary>
    public double StrengthFor(InstanceNames instance)
    {
        if (IsKept || !Near.TryGetValue(instance.Group, out var near))
            return Strength;
        var share = ShareNear(instance);
        return Trust
            * PlaceOf(instance.Group, near.Found)
            * Together(
                Everywhere
                    * Blend(
                        Clearness * Math.Min(1, Rare + (1 - Rare) * Overall / Usual) * Worth(share),
                        Rightness(share, Contested.GetValueOrDefault(instance.Group) / (double)(near.Of + 1))
                    )
            );
    }

    /// <summary>Instances of each group that have a tag by the same rule without what it adds to their number, where it finds few of
    /// them.</summary>
    public Dictionary<(long PartId, long PlaceId), int> Plainly { get; } = [];

    /// <summary>Whether it is of a place: where more have a tag that says their number as it is, nothing is added to it there.</summary>
    private double PlaceOf((long, long) group, double found) =>
        Plainly.TryGetValue(group, out var plainly) && plainly >= found * ClearlyMore + 1 ? found / plainly : 1;

    private const double ClearlyMore = 2;

    /// <summary>How well it names what there is together with the rules of other properties that follow the same, 0 to 1.</summary>
    public double Joint { get; set; }

    /// <summary>Of all that lies in the blocks it goes through as it counts, the part that it names together with those of other
    /// properties: 1 where it keeps to one.</summary>
    public double Filled { get; set; } = 1;

    private double Together(double alone) =>
        Blocks * (alone + Math.Max(Joint, Math.Max(Borne, SaidElsewhere)) * Math.Max(0, WellTogether - alone));

    /// <summary>How far tags of other templates say what stands where it says it, without reckoning: where the pump is 101 in
    /// 101-V45-10-IN, as dryers are in theirs, two pumps are as good as ten.</summary>
    private double SaidElsewhere => pattern.IsSaid ? Cousins : 0;

    /// <summary>A block is somebody's whole: what takes one tag of each does not count blocks.</summary>
    private double Blocks => Math.Clamp((Filled - HardlyFilled) / (WellFilled - HardlyFilled), LeastOfBlocks, 1);

    private const double HardlyFilled = 0.2;
    private const double WellFilled = 0.6;
    private const double LeastOfBlocks = 0.3;

    private const double WellTogether = 0.95;

    /// <summary>The share of the instances that stand as one does for which it names a tag; nearer to that of all where they are
    /// few.</summary>
    public double ShareNear(InstanceNames instance) =>
        Near.TryGetValue(instance.Group, out var near) ? (near.Found + Overall) / (near.Of + 1) : Overall;

    /// <summary>Where names are hit by chance only the share found says something; where they are not, each that is found does.</summary>
    private double Blend(double byShare, double byFinding) => byShare * ByShare * Cover + byFinding * (1 - ByShare);

    /// <summary>How much the share counts: what only counts instances falls in with other names that are counted as well, however far apart
    /// they lie.</summary>
    private double ByShare => pattern.FollowsName ? Chance : Math.Max(Chance, pattern.IsMultiple ? Multiplying : Counting);

    private const double Counting = 0.7;
    private const double Multiplying = 0.3;

    /// <summary>What is written out in names may be so in one place alone; what only counts instances and finds few of them does not count
    /// what it seems to.</summary>
    private double Everywhere => pattern.FollowsName ? 1 : Math.Min(1, Seldom + (1 - Seldom) * Overall / Usual);

    private const double Seldom = 0.2;

    /// <summary>What it means that many tags called like those it names are nobody's: where there is a tag for every number only a rule
    /// that explains most of them is one.</summary>
    private double Cover =>
        Alike == 0 || pattern.FollowsName
            ? 1
            : Math.Clamp(((double)(Alike - Unexplained) / Alike - LeastCovered) / (WellCovered - LeastCovered), 0, 1);

    private const double LeastCovered = 0.3;
    private const double WellCovered = 0.75;

    /// <summary>How well it stands beside others made from the same example: natural logarithm of a likelihood, the same for all but for a
    /// constant.</summary>
    /// <param name="chance">How often a tag is called as one of them calls one by chance.</param>
    public double Beside(double chance)
    {
        var sum =
            -EachUnsaid * Unexplained
            - Misfitting
            - EachReckoned * pattern.Reckoned
            - EachPosition * pattern.Positions
            - (IsComposed ? OwnElsewhere : 0)
            - Leaps
            + 2 * Math.Log(prior)
            + JointWeight * Joint
            - UnfilledWeight * (1 - Blocks)
            + SisterWeight * Sisters
            + CousinWeight * (Cousins + Borne)
            + (pattern.FollowsName ? Written - EachConfused * Math.Min(MostConfused, Confused) - AllConfused * ConfusedShare : 0);
        // What finds fewer than there are by chance is no better than chance.
        var least = Math.Max(chance, LeastChance);
        foreach (var (its, all) in Near.Values)
        {
            var share = Math.Clamp((its + 0.25) / (all + 0.5), least, 1 - 1e-6);
            sum += its * Math.Log(share / least) + (all - its) * Math.Log(1 - share);
        }
        return sum;
    }

    /// <summary>Of the other properties that have rules for the same text, the part that has one that follows the same and stands there as
    /// well as any, 0 to 1.</summary>
    public double Sisters { get; set; }

    /// <summary>Of other templates whose tags look alike, the part in which places stand where this rule says they do, 0 to 1.</summary>
    public double Cousins { get; set; }

    /// <summary>How far units of other templates, whose tags look alike and whose numbers are others, are called as it reckons, 0 to
    /// 1.</summary>
    public double Borne { get; set; }

    /// <summary>True when it reckons numbers in a way no other property of the template does.</summary>
    public bool IsAlone { get; set; }

    // Measured on plants drawn by chance: less lets a step that falls in with other names' stand against what all sisters take.
    private const double SisterWeight = 12;
    private const double CousinWeight = 16;
    private const double LeastChance = 0.05;

    private const double JointWeight = 6;
    private const double UnfilledWeight = 12;

    // People number things by what they are called; by what is reckoned from that, or from where they stand, only where that explains
    // clearly more.
    private const double EachReckoned = 2.5;
    private const double EachPosition = 1.5;

    /// <summary>True when it puts together from numbers of places what is the instance's own number, or from a letter and a number of
    /// another what is the code of a place: H10 from an H and ten times the pump.</summary>
    public bool IsComposed => _isComposed ??= Example is { Instance: var shown } && (ComposesNumber(shown) || ComposesCode(shown));

    private bool? _isComposed;

    private bool ComposesNumber(InstanceNames shown) =>
        shown.NumberOf(PlaceRef.Self, NumberKind.Number) is { } own
        && pattern.Pieces.Any(p =>
            p is NumberPiece number && number.Terms.Any(t => t.Place != PlaceRef.Self) && number.ValueFor(shown) == own
        );

    private bool ComposesCode(InstanceNames shown)
    {
        for (var i = 1; i < pattern.Pieces.Length; i++)
            if (
                pattern.Pieces[i] is NumberPiece { Terms.IsEmpty: false } number
                && pattern.Pieces[i - 1] is FixedPiece before
                && NameToken.Of(before.Text) is [.., { IsNumber: false } letters]
                && before.Text.EndsWith(letters.Text, StringComparison.OrdinalIgnoreCase)
                && number.TextFor(shown) is { } written
            )
            {
                var code = NameToken.KeyOf(NameToken.Of(letters.Text + written));
                if (
                    PlaceRef
                        .AllOf(shown.Lineage)
                        .Any(p =>
                            p != PlaceRef.Self && !number.Terms.Any(t => t.Place == p) && shown.TextOf(new(p, false, TextCut.Whole)) == code
                        )
                )
                    return true;
            }
        return false;
    }

    private const double OwnElsewhere = 4;

    // What is written out in names is meant, unless something else finds clearly more.
    private const double Written = 3;
    private const int MostConfused = 1;
    private const double EachConfused = 2;
    private const double AllConfused = 6;

    /// <summary>Of the instances for which there is a tag as it says, the part for which that is another's.</summary>
    private double ConfusedShare => Confused / (Near.Values.Sum(n => n.Found) + Confused + 0.5);

    /// <summary>How likely a tag that is there is the right one where a rule finds such a share: it is there because the rule holds, or by
    /// chance.</summary>
    /// <param name="share">The share.</param>
    /// <param name="contested">The share for which it names what another instance has by the same rule.</param>
    private double Rightness(double share, double contested = 0) =>
        Evidence * share / (share + (1 - share) * Math.Max(Chance, Math.Min(1, contested)));

    /// <summary>Instances of each group for which it names a tag that another instance has by the same rule.</summary>
    public Dictionary<(long PartId, long PlaceId), int> Contested { get; } = [];

    /// <summary>True for one nobody has shown that names tags of instances which others elsewhere want as well: it does not tell them
    /// apart, and so it is not how they are called.</summary>
    public bool IsOfSeveral => IsSupposed && Contested.Values.Sum() > OftenContested * Near.Values.Sum(n => n.Found);

    private const double OftenContested = 0.15;

    /// <summary>Instances for which it names a tag that one called otherwise has by the same rule.</summary>
    public int Confused { get; set; }

    /// <summary>Tags it names for several instances.</summary>
    public HashSet<int> Disputed { get; } = [];

    /// <summary>How likely the rule holds at all, from the tags it finds against those it would by chance: natural log-odds.</summary>
    /// <remarks>The likelihood ratio of the two, group by group, less what it means that the rule was looked for among many, and less what
    /// it leaves unexplained.</remarks>
    public double Odds
    {
        get
        {
            if (_odds is { } known)
                return known;
            var (found, of) = (Near.Values.Sum(n => n.Found), Near.Values.Sum(n => n.Of));
            if (of == 0)
                return (_odds = Unproven).Value;
            var ratio = 0.0;
            foreach (var (its, all) in Near.Values)
            {
                var share = Math.Clamp((its + 2 * (found + 1) / (of + 2)) / (all + 2), Chance, 1 - 1e-6);
                ratio += its * Math.Log(share / Chance) + (all - its) * Math.Log((1 - share) / (1 - Chance));
            }
            return (
                _odds =
                    Math.Log(prior / (1.05 - Math.Min(1, prior)))
                    + Math.Min(ratio, MostFound)
                    - Math.Log(Searched)
                    - EachUnsaid * Math.Max(0, Unexplained - UsuallyUnsaid * (Alike - Unexplained))
                    - Misfitting
            ).Value;
        }
    }

    private double Evidence => 1 / (1 + Math.Exp(-Odds));

    private const double Unproven = 1.1;
    private const double Searched = 20;

    // Finds are not independent of each other: where a rule falls in with the step of other names, it does so for all.
    private const double MostFound = 12;

    /// <summary>Tags it names, with the instance it names them for.</summary>
    public Dictionary<int, InstanceNames> Claimed { get; } = [];

    /// <summary>Of the tags it names, the part that is described.</summary>
    public double Described { get; set; }

    /// <summary>How unlikely it is that it names tags of just every second instance, or every third, and of none between: natural
    /// logarithm. Where numbers lie two apart, units are counted by twos.</summary>
    public double Leaps { get; set; }

    /// <summary>True when all it names has the numbers of its example, as at another site or in another hall: that says nothing of how
    /// numbers follow.</summary>
    public bool NamesOnlyAlike { get; set; }

    /// <summary>Tags it names that the property cannot have: a few are called wrong, many are not meant.</summary>
    public int Misfits { get; set; }

    private double Misfitting => EachMisfit * Math.Max(0, Misfits - FewMisfits - UsuallyMisfit * Claimed.Count);
    private const double EachMisfit = 3;
    private const double UsuallyMisfit = 0.1;
    private const int FewMisfits = 2;

    /// <summary>Tags that are called like those it names, with other numbers.</summary>
    public int Alike { get; private set; }

    /// <summary>Those of them that no rule of the template names: where a rule is right there are few, for somebody meant something by
    /// each.</summary>
    public int Unexplained { get; private set; }

    /// <summary>True when it names every tag that is called like its example, where these are no more than there are instances.</summary>
    public bool NamesAll { get; set; }

    /// <summary>True when it finds nearly all, leaves hardly any that is called so without an owner, and nothing made from the same example
    /// comes near it.</summary>
    public bool ExplainsAll =>
        Share >= NearlyAll
        && Near.Values.Sum(n => n.Found) >= NearlyAll * Near.Values.Sum(n => n.Of)
        && Unexplained <= (1 - NearlyAll) * Alike;

    private const double NearlyAll = 0.9;
    private const double EachUnsaid = 1.9;
    private const double UsuallyUnsaid = 0.75;
    private double? _odds;

    /// <summary>What it means that a rule names a tag for a part of the instances: few are missing where it is right, and where it names
    /// about half it does so by chance.</summary>
    private static double Worth(double support) =>
        support switch
        {
            >= Sound => 0.3 + 0.7 * support,
            >= Doubtful => DoubtfulWorth + (0.3 + 0.7 * Sound - DoubtfulWorth) * (support - Doubtful) / (Sound - Doubtful),
            _ => DoubtfulWorth * support / Doubtful,
        };

    /// <summary>A rule that holds here and not there does so group by group; one that finds some in every group does so by chance, as
    /// numbers that run close together let it.</summary>
    private double Clearness
    {
        get
        {
            if (_clearness is { } known)
                return known;
            // A few are missing everywhere, so small groups are taken for a little better than they are.
            var mixed =
                Near.Values.Sum(n => n.Of * 4 * (n.Found + Given) * (n.Of - n.Found) / Math.Pow(n.Of + Given, 2))
                / Math.Max(1, Near.Values.Sum(n => n.Of));
            return (_clearness = 1 - MostUnclear * Math.Clamp((mixed - SomewhatMixed) / (VeryMixed - SomewhatMixed), 0, 1)).Value;
        }
    }

    private double? _clearness;
    private const double MostUnclear = 0.7;
    private const double Given = 2;
    private const double Rare = 0.7;
    private const double Usual = 0.6;
    private const double SomewhatMixed = 0.5;
    private const double VeryMixed = 0.85;
    private const double Sound = 0.8;
    private const double Doubtful = 0.5;
    private const double DoubtfulWorth = 0.3;

    /// <summary>True for one a person has kept.</summary>
    public bool IsKept { get; init; }

    /// <summary>True when it was learned from a tag nobody has bound.</summary>
    public bool IsSupposed { get; init; }

    /// <summary>True for one that was supposed because it follows what rules of shown properties do.</summary>
    public bool IsBeside { get; set; }

    /// <summary>What the rule makes of each instance looked at: two rules that make the same of all are one.</summary>
    public string Sample { get; set; } = "";
}
