namespace Fralto.Core.Plant;

/// <summary>One entity's naming of another.</summary>
/// <param name="Who">What names it, in words: the entity, or a part of it.</param>
/// <param name="How">In which way, ending before the words "that no longer exists".</param>
/// <param name="Kind">The kind of the one named.</param>
/// <param name="Key">The key of the one named: its id, or the code of a unit.</param>
public sealed record Reference(string Who, string How, EntityKind Kind, object Key)
{
    /// <summary>What is wrong when the one named is not there.</summary>
    public string Dangling =>
        Kind == EntityKinds.Unit ? $"{Who} {How} {Key}, which no longer exists." : $"{Who} {How} that no longer exists.";

    /// <summary>True when a model lacks the one named; a unit may also be of the shipped catalogue.</summary>
    public bool IsDangling(PlantModel model) =>
        Kind == EntityKinds.Unit ? model.Units.Find((string)Key) is null : Kind.Find(model, Key) is null;
}
