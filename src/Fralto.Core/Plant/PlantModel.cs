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
    public PlantModel Apply(IEnumerable<ModelChange> changes)
    {
        var next = this;
        foreach (var change in changes) next = next.Apply(change);
        return next;
    }

    private PlantModel Apply(ModelChange change) => (change.After ?? change.Before) switch
    {
        StateSet it => Seen(it) with { StateSets = Put(StateSets, it.Id, change) },
        Template it => Seen(it) with { Templates = Put(Templates, it.Id, change) },
        Equipment it => Seen(it) with { Equipment = Put(Equipment, it.Id, change) },
        Controller it => Seen(it) with { Controllers = Put(Controllers, it.Id, change) },
        Tag it => Seen(it) with { Tags = Put(Tags, it.Id, change) },
        PropertyBinding it => this with { Bindings = Put(Bindings, (it.EquipmentId, it.PropertyId), change) },
        var other => throw new InvalidOperationException($"{other?.GetType().Name} is not part of a model."),
    };

    private static ImmutableDictionary<TKey, T> Put<TKey, T>(ImmutableDictionary<TKey, T> entries, TKey key, ModelChange change)
        where TKey : notnull
        where T : class => change.After is T after ? entries.SetItem(key, after) : entries.Remove(key);

    private PlantModel Seen(Entity entity)
    {
        var highest = entity is Template { Properties.Length: > 0 } template
            ? Math.Max(entity.Id, template.Properties.Max(p => p.Id))
            : entity.Id;
        return highest < NextId ? this : this with { NextId = highest + 1 };
    }
}
