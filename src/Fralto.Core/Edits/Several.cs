using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Several edits made as one: each on what those before it have made, all of them or none.</summary>
/// <param name="Edits">The edits, in order.</param>
/// <param name="Words">What the journal says of them; empty to take it from the edits.</param>
public sealed record Several(ImmutableArray<Edit> Edits, string Words = "") : Edit
{
    /// <summary>The most edits that are made as one.</summary>
    public const int Most = 1000;

    /// <summary>Why they cannot be made at all; null when nothing is known to be in their way.</summary>
    public Problem? Hindrance { get; init; }

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (Hindrance is { } hindrance)
            return EditOutcome.Refused([hindrance]);
        if (Edits.IsEmpty)
            return EditOutcome.Refused("", "Choose what is to be changed first.");
        if (Edits.Length > Most)
            return EditOutcome.Refused("", $"{Edits.Length} changes at once; {Most} is the most.");
        var (at, made, summary) = (model, new List<ModelChange>(), "");
        foreach (var edit in Edits)
        {
            var outcome = edit.On(at);
            if (outcome.IsRefused)
                return outcome;
            at = at.Apply(outcome.Changes);
            summary = outcome.Summary;
            made.AddRange(outcome.Changes);
        }
        var changes = Merged(made);
        return changes.Length == 0
            ? EditOutcome.Refused("", "All of these are so already.")
            : EditOutcome.Changed(Words.Length > 0 ? Words : summary, changes);
    }

    /// <summary>Changes made one after the other as one change for each entity; those that come to nothing are left out.</summary>
    /// <param name="changes">The changes, in the order in which they were made.</param>
    internal static ModelChange[] Merged(IEnumerable<ModelChange> changes)
    {
        var order = new List<(EntityKind, object)>();
        var merged = new Dictionary<(EntityKind, object), ModelChange>();
        foreach (var change in changes)
        {
            var entity = (change.After ?? change.Before)!;
            var key = (EntityKinds.Of(entity), EntityKinds.Of(entity).KeyOf(entity));
            if (merged.TryGetValue(key, out var before))
                merged[key] = new(before.Before, change.After);
            else
            {
                order.Add(key);
                merged[key] = change;
            }
        }
        return [.. order.Select(k => merged[k]).Where(c => !Equals(c.Before, c.After))];
    }
}
