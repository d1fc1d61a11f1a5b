using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>A naming rule that would explain the examples of a property, and how well the tags bear it out.</summary>
internal sealed class RuleGuess(TagFace face, NamePattern pattern, double prior, string signature)
{
    public TagFace Face => face;

    public NamePattern Pattern => pattern;

    /// <summary>How natural the rule is by itself, above 0 to 1.</summary>
    public double Prior => prior;

    /// <summary>What the rule follows, without fixed text and offsets: the same for properties that are named alike.</summary>
    public string Signature => signature;

    /// <summary>Instances looked at, and those for which a free tag is named so.</summary>
    public int Of { get; set; }

    public int Hits { get; set; }

    /// <summary>Part of the instances near the example for which the rule names a tag, 0 to 1.</summary>
    public double Support { get; set; }

    /// <summary>Examples the rule explains, and those it does not.</summary>
    public int Agreed { get; set; }

    public int Contradicted { get; set; }

    /// <summary>What the rule weighs against the other guesses for the same property.</summary>
    public double Score { get; set; }

    /// <summary>How far the rule can be trusted where it holds, 0 to 1.</summary>
    public double Trust { get; set; }

    /// <summary>The example it was made from; null for one that was kept.</summary>
    public Example? Example { get; set; }

    /// <summary>Part of all instances for which it names a free tag; of few instances, nearer to what is usual.</summary>
    public double Overall { get; set; } = 0.6;

    /// <summary>The same for each group of instances: tags found, instances.</summary>
    public Dictionary<(long PartId, long PlaceId), (double Found, int Of)> Near { get; } = [];

    /// <summary>How strong it is, 0 to 1.</summary>
    public double Strength => IsKept ? Trust : Trust * Worth(Math.Max(Support, Overall));

    /// <summary>How strong it is for an instance: a rule may hold in one place and not in another, and the fewer it holds for the less it
    /// is believed.</summary>
    public double StrengthFor(InstanceNames instance) =>
        IsKept || !Near.TryGetValue(instance.Group, out var near)
            ? Strength
            : Trust * Clearness * Math.Min(1, Rare + (1 - Rare) * Overall / Usual) * Worth((near.Found + Overall) / (near.Of + 1));

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

    /// <summary>What the rule makes of each instance looked at: two rules that make the same of all are one.</summary>
    public string[]? Sample { get; set; }
}
