using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>A tag, or part of one, that may feed a cell.</summary>
internal sealed class Candidate(int position, Slice? slice)
{
    public int Position => position;

    public Slice? Slice => slice;

    /// <summary>The best rule that names it, by face.</summary>
    public RuleGuess?[] By { get; } = new RuleGuess?[3];

    public List<ScorePart> Parts { get; } = [];

    /// <summary>Sum of the parts: natural log-odds.</summary>
    public double Odds { get; set; }

    /// <summary>Why it cannot be bound, or should not be without a person's look; null when nothing speaks against it.</summary>
    public string? Against { get; set; }

    /// <summary>True when it must not be bound at all.</summary>
    public bool IsMisfit { get; set; }

    /// <summary>True when it is called by what others have behind their whole names.</summary>
    public bool IsAppended { get; set; }

    /// <summary>True when its name speaks of other equipment: then it does not even look right.</summary>
    public bool IsElsewhere { get; set; }

    /// <summary>True when nothing that a person has bound or kept stands behind it.</summary>
    public bool IsUnproven { get; set; }

    /// <summary>True when its value is one the property cannot have.</summary>
    public bool IsRefuted { get; set; }

    /// <summary>The most it can be as one of several that are as likely: they exclude each other.</summary>
    public double Share { get; set; } = 1;

    public double Certainty => Math.Min(Share, Alone);

    /// <summary>How sure it would be if nothing else were as likely.</summary>
    public double Alone =>
        Math.Min(
            IsRefuted ? MostRefuted
                : IsUnproven ? MostUnproven
                : MostCertain,
            1 / (1 + Math.Exp(-Surer(Math.Min(Odds, OfUnit - Unsaid))))
        );

    /// <summary>What many parts say together is more often right than their sum says: measured on plants drawn by chance
    /// (docs/performance.md), below what is proposed nothing is changed.</summary>
    private static double Surer(double odds) => odds + Together * Math.Max(0, odds - Proposed);

    private const double Together = 0.6;
    private const double Proposed = 1.4;

    /// <summary>What says of which unit it is, in log-odds: what says only which property it could be makes it no surer.</summary>
    public double OfUnit { get; private set; }

    /// <summary>Adds what says of which unit it is.</summary>
    public void Identify(double weight) => OfUnit += weight;

    private const double Unsaid = 1.2;

    private const double MostCertain = 0.995;
    private const double MostUnproven = 0.95;
    private const double MostRefuted = 0.5;

    public void Add(ScorePartKind kind, double weight, string words)
    {
        Parts.Add(new(kind, weight, words));
        Odds += weight;
    }

    /// <summary>Adds what speaks against it so much that a person has to decide.</summary>
    public void Contradict(ScorePartKind kind, double weight, string words)
    {
        Add(kind, weight, words);
        Against ??= char.ToUpperInvariant(words[0]) + words[1..];
    }
}
