using System.Collections.Immutable;
using Fralto.Core.Bindings;
using Fralto.Core.NamingRules;
using Fralto.Core.Plant;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>Goes on with a series: the tags after that of a bound cell, for the cells below it.</summary>
public static class SeriesFill
{
    /// <summary>The bindings that continue a series: a number of the tag's name, or its element or bit, goes up by one from row to row, as
    /// far as there are free tags that fit.</summary>
    /// <param name="model">The working model.</param>
    /// <param name="from">The bound cell the series begins with.</param>
    /// <param name="below">Instances below it, in the order of the matrix; the series ends at the first that is bound or has no
    /// tag.</param>
    /// <param name="memory">What was read of the model's tags already; null for nothing.</param>
    public static ImmutableArray<BindingLine> Lines(
        PlantModel model,
        (long EquipmentId, long PropertyId) from,
        IReadOnlyList<long> below,
        ProposalMemory? memory = null
    )
    {
        if (!model.Bindings.TryGetValue(from, out var binding))
            return [];
        var tag = model.Tags[binding.TagId];
        var tokens = NameToken.Of(tag.Name);
        var ways = new List<ImmutableArray<BindingLine>>();
        if (binding.Slice is { } slice)
        {
            if (slice.Element is not null)
                ways.Add(Run(row => (binding.TagId, slice with { Element = slice.Element + row })));
            if (slice.FirstBit is not null)
                ways.Add(Run(row => (binding.TagId, slice with { FirstBit = slice.FirstBit + row * slice.BitCount })));
        }
        var lexicon = (memory ?? new()).LexiconOf(model);
        for (var i = 0; i < tokens.Length; i++)
        {
            if (!tokens[i].IsNumber)
                continue;
            var at = i;
            ways.Add(
                Run(row =>
                {
                    var key = new KeyWriter(stackalloc char[256]);
                    for (var j = 0; j < tokens.Length; j++)
                    {
                        if (j == at)
                            key.Add(tokens[j].Number + row);
                        else
                            key.Add(tokens[j]);
                    }
                    foreach (var position in lexicon.With(TagFace.Name, key.Key))
                        if (lexicon.Tags[position].ControllerId == tag.ControllerId)
                            return (lexicon.Tags[position].Id, binding.Slice);
                    return null;
                })
            );
        }
        return ways.Count == 0 ? [] : ways.MaxBy(w => w.Length);

        ImmutableArray<BindingLine> Run(Func<int, (long TagId, Slice? Slice)?> source)
        {
            var lines = ImmutableArray.CreateBuilder<BindingLine>();
            for (var row = 0; row < below.Count; row++)
            {
                if (model.Bindings.ContainsKey((below[row], from.PropertyId)) || source(row + 1) is not { } next)
                    break;
                var property = model.Index.PropertiesOf(model.Equipment[below[row]]).FirstOrDefault(p => p.Id == from.PropertyId);
                if (
                    property is null
                    || BindingRules.Misfit(model, property, model.Tags[next.TagId], next.Slice) is not null
                    || model.Index.BindingsOf(next.TagId).Any(b => Slice.Overlap(b.Slice, next.Slice))
                )
                    break;
                lines.Add(new(below[row], from.PropertyId, next.TagId, next.Slice));
            }
            return lines.ToImmutable();
        }
    }
}
