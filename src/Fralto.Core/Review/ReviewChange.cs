using System.Collections.Immutable;
using Fralto.Core.Plant;

namespace Fralto.Core.Review;

/// <summary>One change between two models, as people speak of it.</summary>
/// <param name="Key">What tells it from all others: the same for as long as it is there.</param>
/// <param name="Kind">What has become of it.</param>
/// <param name="Of">The kind of what it is about.</param>
/// <param name="Id">Its id: of the template, the instance, the controller, the entity.</param>
/// <param name="Group">The template or place it stands under, in words.</param>
/// <param name="Subject">What it is about.</param>
public sealed record ReviewChange(string Key, ReviewKind Kind, EntityKind Of, long Id, string Group, string Subject)
{
    /// <summary>The property it is about; null for none, or for several.</summary>
    public long? PropertyId { get; init; }

    /// <summary>What is said otherwise; the first of them when they are many.</summary>
    public ImmutableArray<FieldChange> Fields { get; init; } = [];

    /// <summary>How many things are said otherwise.</summary>
    public int FieldCount { get; init; }

    /// <summary>Who follows and who keeps what it had, in a sentence.</summary>
    public string Reach { get; init; } = "";

    /// <summary>The number that changes, where it is one number; null for anything else.</summary>
    public ReviewRuler? Ruler { get; init; }

    /// <summary>The entities it changes: after, as they are now, and before, as they would be if this alone were taken back. Other changes
    /// of the same entity stand in both.</summary>
    public ImmutableArray<ModelChange> Changes { get; init; } = [];

    /// <summary>Who changed it last; empty when that is not known.</summary>
    public string Who { get; init; } = "";

    /// <summary>When it was changed last.</summary>
    public DateTimeOffset At { get; init; }

    /// <summary>It in one line.</summary>
    public string Words =>
        FieldCount != 1 || Fields is not [var one] ? Subject
        : Kind == ReviewKind.Rebound
            ? $"{Subject} · {string.Join(" → ", new[] { one.Before, one.After }.Where(t => t.Length > 0).Distinct())}"
        : $"{Subject} · {one.Words}";
}
