using System.Collections.Frozen;
using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Review;

namespace Fralto.Runtime;

/// <summary>What links follow while a working model differs: the tags of both. A tag that is read in another way there is read in both
/// ways, the other one under a number of its own.</summary>
internal sealed class FollowedTags
{
    /// <summary>Beyond any id of a model: what is read otherwise in the working model has its own id and this.</summary>
    private const long Other = 1L << 52;

    private readonly FrozenSet<long> _twice;

    private FollowedTags(PlantModel model, FrozenSet<long> twice) => (Model, _twice) = (model, twice);

    /// <summary>The model the links follow.</summary>
    public PlantModel Model { get; }

    /// <summary>What links are to follow.</summary>
    /// <param name="released">The model that runs.</param>
    /// <param name="changes">What tells the working model from it.</param>
    public static FollowedTags Of(PlantModel released, NetChanges changes)
    {
        var (added, twice) = (new List<ModelChange>(), new List<long>());
        foreach (var change in changes.Changes)
            switch (change)
            {
                case (null, Controller or Tag):
                    added.Add(change);
                    break;
                // What memory holds is held under the tag's own number, and nobody sends it.
                case (Tag was, Tag now) when !IsReadAlike(was, now) && IsOfDevice(released, was) && IsOfDevice(released, now):
                    twice.Add(now.Id);
                    added.Add(new(null, now with { Id = now.Id + Other, Name = $"{now.Name} (unreleased)" }));
                    break;
            }
        return new(added.Count == 0 ? released : released.Apply(added), twice.ToFrozenSet());
    }

    /// <summary>Where a tag of the working model is read.</summary>
    public Tag ReadingOf(Tag tag) =>
        _twice.Contains(tag.Id) && Model.Tags.TryGetValue(tag.Id + Other, out var other) && IsReadAlike(tag, other)
            ? tag with
            {
                Id = other.Id,
            }
            : tag;

    /// <summary>Samples as the working model has them.</summary>
    public ReadOnlySpan<Sample> OfWorking(Sample[] samples)
    {
        if (_twice.Count == 0)
            return samples;
        var (its, count) = (new Sample[samples.Length], 0);
        foreach (var sample in samples)
            if (sample.TagId >= Other)
                its[count++] = sample with { TagId = sample.TagId - Other };
            else if (!_twice.Contains(sample.TagId))
                its[count++] = sample;
        return its.AsSpan(0, count);
    }

    private static bool IsReadAlike(Tag one, Tag other) =>
        one with
        {
            Id = 0,
            Name = "",
            Description = "",
            Unit = null,
            Range = null,
        } == other with { Id = 0, Name = "", Description = "", Unit = null, Range = null };

    private static bool IsOfDevice(PlantModel model, Tag tag) =>
        model.Controllers.GetValueOrDefault(tag.ControllerId) is { Connection: not Core.Memory.MemoryConnection };
}
