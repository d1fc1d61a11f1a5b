using System.Collections.Immutable;
using Fralto.Core.Controllers;

namespace Fralto.Core.Modbus;

/// <summary>Groups tags into few read requests.</summary>
public static class ReadPlanner
{
    /// <summary>Unused registers worth reading rather than asking twice: a request costs more than their 32 bytes.</summary>
    public const int RegisterGap = 16;

    /// <summary>Unused bits worth reading rather than asking twice.</summary>
    public const int BitGap = 256;

    /// <summary>Blocks that together read every tag, each within the protocol's limits.</summary>
    public static ImmutableArray<ReadBlock> Plan(IEnumerable<Tag> tags) =>
        [.. tags.GroupBy(t => t.Address.Area).OrderBy(g => g.Key).SelectMany(PlanArea)];

    /// <summary>The same tags in two blocks, for finding which of them a device refuses; null when there is only one tag.</summary>
    public static (ReadBlock First, ReadBlock Second)? Split(ReadBlock block)
    {
        if (block.Tags.Length < 2) return null;
        var half = block.Tags.Length / 2;
        return (BlockOf([.. block.Tags.Take(half)]), BlockOf([.. block.Tags.Skip(half)]));
    }

    private static IEnumerable<ReadBlock> PlanArea(IGrouping<RegisterArea, Tag> area)
    {
        var bits = area.First().Address.IsBit;
        var (most, gap) = bits ? (ModbusLimits.ReadBits, BitGap) : (ModbusLimits.ReadRegisters, RegisterGap);
        var members = new List<Tag>();
        var (start, end) = (0, 0);
        foreach (var tag in area.OrderBy(t => t.Address.Offset).ThenBy(t => t.Id))
        {
            var tagEnd = EndOf(tag);
            if (members.Count > 0 && (tag.Address.Offset - end > gap || Math.Max(end, tagEnd) - start > most))
            {
                yield return BlockOf([.. members]);
                members.Clear();
            }
            if (members.Count == 0) (start, end) = (tag.Address.Offset, tagEnd);
            members.Add(tag);
            end = Math.Max(end, tagEnd);
        }
        if (members.Count > 0) yield return BlockOf([.. members]);
    }

    private static ReadBlock BlockOf(ImmutableArray<Tag> tags)
    {
        var start = tags.Min(t => t.Address.Offset);
        return new ReadBlock(tags[0].Address.Area, start, tags.Max(EndOf) - start, tags);
    }

    private static int EndOf(Tag tag) => tag.Address.Offset + tag.Places;
}
