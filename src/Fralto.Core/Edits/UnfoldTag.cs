using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>Makes a tag of its own of each named bit or element of a Modbus tag: packed contacts, a status word, an array. The tag itself
/// stays.</summary>
/// <param name="TagId">The tag that holds them.</param>
/// <param name="Names">Names by position from 0; an empty one is passed over.</param>
public sealed record UnfoldTag(long TagId, ImmutableArray<string> Names) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Tags.TryGetValue(TagId, out var tag))
            return Gone("The tag");
        if (WhyNot(tag) is { } reason)
            return EditOutcome.Refused(nameof(Names), reason);
        var controller = model.Controllers[tag.ControllerId];
        var most = PartsOf(tag);
        if (Names.Length > most)
            return EditOutcome.Refused(
                nameof(Names),
                $"{tag.Name} has {most} {(IsBits(tag) ? "bits" : "elements")}; there are {Names.Length} names."
            );
        var taken = model.Index.TagsOf(controller.Id).ToDictionary(t => t.Name, t => t, StringComparer.OrdinalIgnoreCase);
        var (changes, problems, next) = (new List<ModelChange>(), new List<Problem>(), model.NextId);
        for (var i = 0; i < Names.Length; i++)
        {
            if (Names[i].Trim() is not { Length: > 0 } name)
                continue;
            var part = new Tag(
                next++,
                tag.ControllerId,
                name,
                PlaceOf(tag, i),
                IsBits(tag) ? RawType.Bool : tag.Type,
                IsBits(tag) ? WordOrder.HighFirst : tag.WordOrder,
                tag.Description,
                1,
                tag.Unit
            )
            {
                UpdateClass = tag.UpdateClass,
            };
            if (!taken.TryAdd(name, part))
                problems.Add(
                    new(
                        nameof(Names),
                        $"{controller.Name} already has a tag named {name}; {TagRules.FreeName(name, taken.ContainsKey)} is free."
                    )
                );
            problems.AddRange(
                EntityRules
                    .Problems(model, controller, part)
                    .Select(p => p with { Field = nameof(Names), Message = $"{name}: {p.Message}" })
            );
            changes.Add(Added(part));
        }
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);
        return changes.Count == 0
            ? EditOutcome.Refused(nameof(Names), "Give at least one name.")
            : EditOutcome.Changed($"Unfold {tag.Name} into {Count(changes.Count, "tag")}", [.. changes]);
    }

    /// <summary>Why a tag has no parts that could stand alone; null when it has.</summary>
    public static string? WhyNot(Tag tag) =>
        tag.Register is not { Bit: null } ? $"{tag.Name} is not made of registers; bind its elements by their place, as in [3]."
        : IsBits(tag) || tag.IsArray ? null
        : $"{tag.Name} is a single {tag.Type.Word()}; words of 16 or 32 bits and arrays can be unfolded.";

    /// <summary>How many bits or elements a tag has.</summary>
    public static int PartsOf(Tag tag) =>
        tag.Type == RawType.Bool ? tag.Count
        : tag.IsArray ? tag.Count
        : tag.Type.SliceableBits();

    private static bool IsBits(Tag tag) => tag.Type == RawType.Bool ? tag.IsArray : !tag.IsArray && tag.Type.SliceableBits() is 16 or 32;

    private static ModbusAddress PlaceOf(Tag tag, int part)
    {
        var at = tag.Register!;
        if (at.IsBit)
            return at with { Offset = at.Offset + part };
        if (!IsBits(tag))
            return at with { Offset = at.Offset + part * tag.Type.Words() };
        // Bits are numbered from the lowest of the word they make together; a word of 16 bits stands alone.
        if (tag.Type.Words() == 1 && tag.Type != RawType.Bool)
            return at with { Bit = Turned(part, tag.WordOrder) };
        var (pair, within) = (part / 32 * 2, part % 32);
        return at with
        {
            Offset = at.Offset + pair + (within >= 16 == tag.WordOrder.IsLowFirst() ? 1 : 0),
            Bit = Turned(within % 16, tag.WordOrder),
        };
    }

    private static int Turned(int bit, WordOrder order) => order.IsSwapped() ? (bit + 8) % 16 : bit;
}
