namespace Fralto.Core.Plant;

/// <summary>One kind of entity a model is made of: where it is kept, by what key, under which name in files, and what people call
/// it.</summary>
public abstract class EntityKind
{
    private protected EntityKind(string id, string word, Type type) => (Id, Word, Type) = (id, word, type);

    /// <summary>The identifier by which files and the journal name it. It never changes, whatever the program calls its types.</summary>
    public string Id { get; }

    /// <summary>What people call it.</summary>
    public string Word { get; }

    /// <summary>The type of its entities.</summary>
    public Type Type { get; }

    /// <summary>All entities of the kind.</summary>
    public abstract IEnumerable<object> All(PlantModel model);

    /// <summary>The entity with a key, an id or for a binding the ids of instance and property; null when there is none.</summary>
    public abstract object? Find(PlantModel model, object key);

    /// <summary>What tells an entity from others of its kind.</summary>
    public abstract object KeyOf(object entity);

    /// <summary>What people call an entity.</summary>
    public abstract string NameOf(object entity, PlantModel model);

    /// <summary>The highest id that an entity holds, its own or that of one of its parts; 0 for none.</summary>
    public abstract long HighestIdOf(object entity);

    /// <summary>The model after changes to entities of the kind; the others are passed over.</summary>
    internal abstract PlantModel Apply(PlantModel model, IReadOnlyCollection<ModelChange> changes);
}
