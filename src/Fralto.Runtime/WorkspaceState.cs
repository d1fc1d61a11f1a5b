using System.Collections.Immutable;
using Fralto.Core.Plant;
using Fralto.Core.Review;

namespace Fralto.Runtime;

/// <summary>The working and the released model at one moment.</summary>
/// <param name="Model">What is being edited.</param>
/// <param name="Released">What runs; the same object while nothing is unreleased.</param>
/// <param name="Changes">What tells the working model from the released one.</param>
/// <param name="IsAutomatic">True while whatever is edited runs at once.</param>
/// <param name="Number">The newest release; 0 while there is none.</param>
public sealed record WorkspaceState(PlantModel Model, PlantModel Released, NetChanges Changes, bool IsAutomatic, int Number)
{
    /// <summary>The newest entry of the journal that is in the working model.</summary>
    public long Head { get; init; }

    /// <summary>True while the two differ in anything.</summary>
    public bool IsUnreleased => !ReferenceEquals(Model, Released);

    /// <summary>The models after an edit of the working one.</summary>
    internal WorkspaceState After(PlantModel next, ImmutableArray<ModelChange> changes, string who, DateTimeOffset at)
    {
        if (IsAutomatic)
            return this with { Model = next, Released = next };
        var net = Changes.After(changes, who, at);
        if (net.IsEmpty)
            return this with { Model = next, Released = next, Changes = net };
        // What makes no difference is true of what runs, too.
        var neutral = changes.Where(c => NetChanges.IsNeutral(c) && net.Of(c.After!) is null).ToArray();
        return this with { Model = next, Released = neutral.Length == 0 ? Released : Released.Apply(neutral), Changes = net };
    }

    /// <summary>The models after a release.</summary>
    /// <param name="model">What runs from now on.</param>
    /// <param name="number">The number of the release.</param>
    internal WorkspaceState Running(PlantModel model, int number)
    {
        var net = ReferenceEquals(model, Model) ? NetChanges.None : NetChanges.Between(model, Model, Changes);
        return new(Model, net.IsEmpty ? Model : net.Before(Model), net, false, number) { Head = Head };
    }
}
