using System.Collections.Immutable;
using Fralto.Core.Bindings;
using Fralto.Core.Plant;

namespace Fralto.Core.Review;

/// <summary>What tells one model from another: one change for each entity that differs. It is carried along with edits, so that it costs
/// what has changed and not what there is.</summary>
/// <remarks>That somebody has checked a binding is no difference: it is said of the plant, and counts in every model at once.</remarks>
public sealed class NetChanges
{
    /// <summary>No difference.</summary>
    public static readonly NetChanges None = new(ImmutableDictionary<(EntityKind, object), NetChange>.Empty);

    private readonly ImmutableDictionary<(EntityKind Kind, object Key), NetChange> _changes;

    private NetChanges(ImmutableDictionary<(EntityKind, object), NetChange> changes) => _changes = changes;

    /// <summary>How many entities differ.</summary>
    public int Count => _changes.Count;

    /// <summary>True when the models are the same.</summary>
    public bool IsEmpty => _changes.IsEmpty;

    /// <summary>All of them, in no order.</summary>
    public IEnumerable<NetChange> All => _changes.Values;

    /// <summary>All of them without who made them.</summary>
    public IEnumerable<ModelChange> Changes => _changes.Values.Select(c => c.Change);

    /// <summary>What has become of an entity; null when it is as it was.</summary>
    public NetChange? Of(object entity) =>
        EntityKinds.Of(entity) is var kind ? _changes.GetValueOrDefault((kind, kind.KeyOf(entity))) : null;

    /// <summary>The differences after an edit of the later model.</summary>
    /// <param name="changes">What the edit changes, in order.</param>
    /// <param name="who">Who makes it.</param>
    /// <param name="at">When.</param>
    public NetChanges After(IEnumerable<ModelChange> changes, string who, DateTimeOffset at)
    {
        var next = _changes.ToBuilder();
        foreach (var change in changes)
        {
            var entity = (change.After ?? change.Before)!;
            var kind = EntityKinds.Of(entity);
            var key = (kind, kind.KeyOf(entity));
            var before = next.TryGetValue(key, out var known) ? known.Change.Before : change.Before;
            if (IsSame(before, change.After))
                next.Remove(key);
            else
                next[key] = new(new(before, change.After), who, at);
        }
        return new(next.ToImmutable());
    }

    /// <summary>The differences between two models.</summary>
    /// <param name="before">The earlier one.</param>
    /// <param name="after">The later one.</param>
    /// <param name="known">Who made which change, where that is known.</param>
    public static NetChanges Between(PlantModel before, PlantModel after, NetChanges? known = null)
    {
        var found = ImmutableDictionary.CreateBuilder<(EntityKind, object), NetChange>();
        foreach (var kind in EntityKinds.All)
        {
            foreach (var entity in kind.All(after))
            {
                var was = kind.Find(before, kind.KeyOf(entity));
                if (!IsSame(was, entity))
                    Add(kind, new(was, entity));
            }
            foreach (var entity in kind.All(before))
                if (kind.Find(after, kind.KeyOf(entity)) is null)
                    Add(kind, new(entity, null));
        }
        return new(found.ToImmutable());

        void Add(EntityKind kind, ModelChange change)
        {
            var entity = (change.After ?? change.Before)!;
            var its = known?.Of(entity);
            found[(kind, kind.KeyOf(entity))] = new(change, its?.Who ?? "", its?.At ?? default);
        }
    }

    /// <summary>Those of some entities only.</summary>
    public NetChanges Where(Func<NetChange, bool> isChosen) => new(_changes.Where(c => isChosen(c.Value)).ToImmutableDictionary());

    /// <summary>The earlier model again.</summary>
    /// <param name="after">The later one.</param>
    public PlantModel Before(PlantModel after) => IsEmpty ? after : after.Apply(Changes.Select(c => c.Inverse));

    /// <summary>True when an edit of the later model makes no difference to the earlier one and holds there, too.</summary>
    public static bool IsNeutral(ModelChange change) => IsSame(change.Before, change.After);

    private static bool IsSame(object? before, object? after) =>
        ReferenceEquals(before, after)
        || Equals(before, after)
        || before is PropertyBinding was && after is PropertyBinding now && was with { Checked = null } == now with { Checked = null };
}
