using System.Collections.Immutable;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Takes an earlier edit back, or makes a taken-back one again: everything it changed becomes as it was before it.</summary>
/// <remarks>Refused when something it changed has been changed since, or when what came later depends on it.</remarks>
/// <param name="Summary">What the journal says of it.</param>
/// <param name="Changes">The changes of the earlier edit, in its order.</param>
public sealed record TakeBack(string Summary, ImmutableArray<ModelChange> Changes) : Edit
{
    private const int MostProblems = 3;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var moved = Changes
            .Where(c => !Equals(model.Current((c.After ?? c.Before)!), c.After))
            .Select(c => (c.After ?? c.Before)!)
            .Select(e => (EntityKinds.Of(e), e))
            .Select(e => $"{(e.Item1 == EntityKinds.Binding ? "a binding of " : "")}{e.Item1.NameOf(e.e, model)}")
            .Distinct()
            .ToArray();
        if (moved.Length > 0)
            return EditOutcome.Refused(
                "",
                $"A later edit has changed {string.Join(", ", moved.Take(MostProblems))}; take that back first."
            );
        var inverse = InOrder(model, [.. Changes.Reverse().Select(c => c.Inverse)]);
        var problems = Integrity.NewProblems(model, model.Apply(inverse), inverse).Take(MostProblems).ToArray();
        return problems.Length > 0
            ? EditOutcome.Refused(problems.Select(p => p with { Message = $"A later edit depends on it: {p.Message}" }))
            : EditOutcome.Changed(Summary, inverse);
    }

    /// <summary>The changes, with new positions for siblings that would stand at the same one: what comes back stands where it stood, and
    /// what has come since behind it.</summary>
    private static ModelChange[] InOrder(PlantModel model, ModelChange[] changes)
    {
        if (changes.All(c => c.After is not Equipment))
            return changes;
        var next = model.Apply(changes);
        var back = changes.Select(c => c.After).OfType<Equipment>().ToDictionary(e => e.Id);
        foreach (var family in back.Values.GroupBy(e => e.ParentId))
        {
            var siblings = next
                .Equipment.Values.Where(e => e.ParentId == family.Key)
                .OrderBy(e => e.Order)
                .ThenBy(e => !back.ContainsKey(e.Id))
                .ThenBy(e => e.Id)
                .ToArray();
            if (siblings.Select(e => e.Order).Distinct().Count() == siblings.Length)
                continue;
            for (var i = 0; i < siblings.Length; i++)
                if (siblings[i].Order != i + 1)
                    changes = Put(changes, siblings[i], siblings[i] with { Order = i + 1 });
        }
        return changes;
    }

    /// <summary>The changes, one of them leading to another end; a change of its own where none leads to what was.</summary>
    private static ModelChange[] Put(ModelChange[] changes, Equipment was, Equipment now)
    {
        var at = Array.FindIndex(changes, c => ReferenceEquals(c.After, was));
        if (at < 0)
            return [.. changes, new(was, now)];
        changes[at] = changes[at] with { After = now };
        return changes;
    }
}
