using Fralto.Core.Bindings;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>Which tags, and parts of them, feed something already.</summary>
internal sealed class TagsInUse
{
    private readonly Dictionary<int, List<PropertyBinding>> _bindings = [];

    public TagsInUse(PlantModel model, TagLexicon lexicon)
    {
        foreach (var binding in model.Bindings.Values)
            if (lexicon.PositionOf.TryGetValue(binding.TagId, out var position))
                (_bindings.TryGetValue(position, out var list) ? list : _bindings[position] = []).Add(binding);
    }

    /// <summary>True when neither the tag nor anything of the part feeds a property.</summary>
    public bool IsFree(int position, Slice? slice) => By(position, slice) is null;

    /// <summary>A binding that takes the tag or some of the part; null when there is none.</summary>
    public PropertyBinding? By(int position, Slice? slice) =>
        _bindings.TryGetValue(position, out var bindings) ? bindings.FirstOrDefault(b => Slice.Overlap(b.Slice, slice)) : null;
}
