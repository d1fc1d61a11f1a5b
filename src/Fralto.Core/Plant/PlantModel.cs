using System.Collections.Immutable;
using Fralto.Core.Binding;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Templates;

namespace Fralto.Core.Plant;

/// <summary>The whole model at one moment. Immutable: an edit yields changes, and changes yield the next model.</summary>
public sealed record PlantModel
{
    public static readonly PlantModel Empty = new();

    private ModelIndex? _index;

    public PlantModel()
    {
    }

    // A changed copy must not keep the look-ups of the model it was copied from.
    private PlantModel(PlantModel other)
    {
        NextId = other.NextId;
        StateSets = other.StateSets;
        Templates = other.Templates;
        Equipment = other.Equipment;
        Controllers = other.Controllers;
        Tags = other.Tags;
        Bindings = other.Bindings;
    }

    /// <summary>The id the next new entity gets. Never goes back, so an id names one thing for ever.</summary>
    public long NextId { get; init; } = 1;

    public ImmutableDictionary<long, StateSet> StateSets { get; init; } = ImmutableDictionary<long, StateSet>.Empty;

    public ImmutableDictionary<long, Template> Templates { get; init; } = ImmutableDictionary<long, Template>.Empty;

    public ImmutableDictionary<long, Equipment> Equipment { get; init; } = ImmutableDictionary<long, Equipment>.Empty;

    public ImmutableDictionary<long, Controller> Controllers { get; init; } = ImmutableDictionary<long, Controller>.Empty;

    public ImmutableDictionary<long, Tag> Tags { get; init; } = ImmutableDictionary<long, Tag>.Empty;

    public ImmutableDictionary<(long EquipmentId, long PropertyId), PropertyBinding> Bindings { get; init; } =
        ImmutableDictionary<(long EquipmentId, long PropertyId), PropertyBinding>.Empty;

    /// <summary>Look-ups over this model, made when first asked for.</summary>
    public ModelIndex Index => _index ??= new ModelIndex(this);

    /// <summary>What the model holds now in place of an entity or binding; null when it holds nothing.</summary>
    public object? Current(object entity) => entity switch
    {
        StateSet it => StateSets.GetValueOrDefault(it.Id),
        Template it => Templates.GetValueOrDefault(it.Id),
        Equipment it => Equipment.GetValueOrDefault(it.Id),
        Controller it => Controllers.GetValueOrDefault(it.Id),
        Tag it => Tags.GetValueOrDefault(it.Id),
        PropertyBinding it => Bindings.GetValueOrDefault((it.EquipmentId, it.PropertyId)),
        _ => throw new InvalidOperationException($"{entity.GetType().Name} is not part of a model."),
    };

    /// <summary>The model after a set of changes.</summary>
    /// <param name="changes">Changes to this model: what each says was before is what the model holds.</param>
    public PlantModel Apply(IEnumerable<ModelChange> changes)
    {
        var all = changes as IReadOnlyCollection<ModelChange> ?? [.. changes];
        var next = this with
        {
            StateSets = Put(StateSets, all, e => e.Id),
            Templates = Put(Templates, all, e => e.Id),
            Equipment = Put(Equipment, all, e => e.Id),
            Controllers = Put(Controllers, all, e => e.Id),
            Tags = Put(Tags, all, e => e.Id),
            Bindings = Put(Bindings, all, b => (b.EquipmentId, b.PropertyId)),
            NextId = Math.Max(NextId, all.Select(c => HighestId(c.After ?? c.Before)).DefaultIfEmpty().Max() + 1),
        };
        next._index = _index?.After(next, all);
        return next;
    }

    private static ImmutableDictionary<TKey, T> Put<TKey, T>(ImmutableDictionary<TKey, T> entries, IReadOnlyCollection<ModelChange> changes, Func<T, TKey> keyOf)
        where TKey : notnull
        where T : class
    {
        ImmutableDictionary<TKey, T>.Builder? next = null;
        foreach (var change in changes)
        {
            if (change.After is T after) (next ??= entries.ToBuilder())[keyOf(after)] = after;
            else if (change.Before is T before) (next ??= entries.ToBuilder()).Remove(keyOf(before));
        }
        return next?.ToImmutable() ?? entries;
    }

    private static long HighestId(object? entity) => entity switch
    {
        Template it => it.Properties.Select(p => p.Id).Concat(it.Parts.Select(p => p.Id)).Append(it.Id).Max(),
        Entity it => it.Id,
        _ => 0,
    };
}
