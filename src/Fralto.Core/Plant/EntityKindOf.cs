using System.Collections.Immutable;

namespace Fralto.Core.Plant;

/// <summary>One kind of entity.</summary>
/// <param name="id">Its identifier in files.</param>
/// <param name="word">What people call it.</param>
/// <param name="entries">Where a model keeps it.</param>
/// <param name="with">Puts others in their place.</param>
/// <param name="keyOf">What tells an entity from others.</param>
/// <param name="nameOf">What people call an entity.</param>
/// <param name="highestId">The highest id in an entity.</param>
internal sealed class EntityKindOf<TKey, T>(
    string id,
    string word,
    Func<PlantModel, ImmutableDictionary<TKey, T>> entries,
    Func<PlantModel, ImmutableDictionary<TKey, T>, PlantModel> with,
    Func<T, TKey> keyOf,
    Func<T, PlantModel, string> nameOf,
    Func<T, long> highestId
) : EntityKind(id, word, typeof(T))
    where TKey : notnull
    where T : class
{
    public override IEnumerable<object> All(PlantModel model) => entries(model).Values;

    public override object? Find(PlantModel model, object key) => entries(model).GetValueOrDefault((TKey)key);

    public override object KeyOf(object entity) => keyOf((T)entity);

    public override string NameOf(object entity, PlantModel model) => nameOf((T)entity, model);

    public override long HighestIdOf(object entity) => highestId((T)entity);

    internal override PlantModel Apply(PlantModel model, IReadOnlyCollection<ModelChange> changes)
    {
        ImmutableDictionary<TKey, T>.Builder? next = null;
        foreach (var change in changes)
        {
            if (change.After is T after)
                (next ??= entries(model).ToBuilder())[keyOf(after)] = after;
            else if (change.Before is T before)
                (next ??= entries(model).ToBuilder()).Remove(keyOf(before));
        }
        return next is null ? model : with(model, next.ToImmutable());
    }
}
