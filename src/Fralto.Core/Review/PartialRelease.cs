using System.Collections.Immutable;
using Fralto.Core.Bindings;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Review;

/// <summary>A part of what is unreleased, and whether it can run without the rest.</summary>
/// <param name="Model">The released model with that part; the released model where it cannot.</param>
/// <param name="Needs">What must come along, in words; empty when nothing must.</param>
/// <param name="With">The part with what must come along.</param>
/// <param name="Problem">Why it cannot be released by itself; null when it can.</param>
public sealed record PartialRelease(PlantModel Model, ImmutableArray<string> Needs, NetChanges With, string? Problem)
{
    private const int MostNamed = 5;

    /// <summary>Looks at a part.</summary>
    /// <param name="working">The working model.</param>
    /// <param name="released">The released one.</param>
    /// <param name="all">All that is unreleased.</param>
    /// <param name="part">The part.</param>
    public static PartialRelease Of(PlantModel working, PlantModel released, NetChanges all, NetChanges part)
    {
        if (part.IsEmpty)
            return new(released, [], part, "Nothing of that is unreleased.");
        var with = Completed(working, released, all, part);
        if (with.Count > part.Count)
        {
            var more = with.Where(c => part.Of((c.Change.After ?? c.Change.Before)!) is null)
                .Changes.Select(c => (c.After ?? c.Before)!)
                .Select(e => $"{EntityKinds.Of(e).Word} {EntityKinds.NameOf(e, working.Current(e) is null ? released : working)}")
                .Distinct()
                .Order(StringComparer.Ordinal)
                .ToImmutableArray();
            return new(
                released,
                more,
                with,
                $"It cannot run by itself; this must come along: {string.Join(", ", more.Take(MostNamed))}"
                    + $"{(more.Length > MostNamed ? $" and {more.Length - MostNamed} more" : "")}."
            );
        }
        var changes = part.Changes.ToArray();
        var next = released.Apply(changes);
        return Integrity.NewProblems(released, next, changes) is [var first, ..]
            ? new(released, [], part, $"It cannot run by itself: {first.Message} Release everything.")
            : new(next, [], part, null);
    }

    /// <summary>The changes at and below a place.</summary>
    public static NetChanges Below(PlantModel working, PlantModel released, NetChanges all, long placeId)
    {
        bool IsBelow(long id) => Lies(working, id, placeId) || Lies(released, id, placeId);
        return all.Where(c =>
            (c.Change.After ?? c.Change.Before) switch
            {
                Hierarchy.Equipment it => IsBelow(it.Id),
                PropertyBinding it => IsBelow(it.EquipmentId),
                _ => false,
            }
        );
    }

    /// <summary>The changes of a template.</summary>
    public static NetChanges Of(NetChanges all, long templateId) =>
        all.Where(c => (c.Change.After ?? c.Change.Before) is Templates.Template it && it.Id == templateId);

    private static bool Lies(PlantModel model, long id, long placeId) =>
        model.Equipment.ContainsKey(id) && model.Index.LineageOf(id).Any(e => e.Id == placeId);

    /// <summary>A part with all it names that is new, and with what names what it takes out.</summary>
    private static NetChanges Completed(PlantModel working, PlantModel released, NetChanges all, NetChanges part)
    {
        while (true)
        {
            var chosen = part;
            var needed = References
                .Of(working, chosen.Changes.Select(c => c.After).OfType<object>())
                .Where(r => r.Kind != EntityKinds.Unit)
                .Select(r => r.Kind.Find(working, r.Key))
                .OfType<object>()
                .Concat(OwnUnits(working, chosen))
                .ToHashSet(ReferenceEqualityComparer.Instance);
            var gone = chosen
                .Changes.Where(c => c.After is null)
                .Select(c => (EntityKinds.Of(c.Before!), EntityKinds.Of(c.Before!).KeyOf(c.Before!)))
                .ToHashSet();
            var next = all.Where(c =>
                chosen.Of((c.Change.After ?? c.Change.Before)!) is not null
                || c.Change is { Before: null, After: { } added } && needed.Contains(added)
                || gone.Count > 0
                    && c.Change.Before is { } before
                    && References.Of(released, [before]).Any(r => gone.Contains((r.Kind, r.Key)))
            );
            if (next.Count == chosen.Count)
                return chosen;
            part = next;
        }
    }

    private static IEnumerable<object> OwnUnits(PlantModel working, NetChanges chosen)
    {
        var codes = References
            .Of(working, chosen.Changes.Select(c => c.After).OfType<object>())
            .Where(r => r.Kind == EntityKinds.Unit)
            .Select(r => (string)r.Key)
            .ToHashSet(StringComparer.Ordinal);
        return working.OwnUnits.Values.Where(u => codes.Contains(u.Code));
    }
}
