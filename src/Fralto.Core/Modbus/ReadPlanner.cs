using System.Collections.Immutable;
using Fralto.Core.Controllers;

namespace Fralto.Core.Modbus;

/// <summary>Groups tags into few read requests.</summary>
public static class ReadPlanner
{
    /// <summary>Unused registers worth reading rather than asking twice: a request costs more than their 32 bytes.</summary>
    public const int RegisterGap = 16;

    /// <summary>Blocks that together read every tag, each within the protocol's limits.</summary>
    /// <param name="tags">Tags of one Modbus controller.</param>
    /// <param name="connection">Its unit id, its largest read and the gap worth reading over; the protocol's limits when null.</param>
    public static ImmutableArray<ReadBlock> Plan(IEnumerable<Tag> tags, ModbusConnection? connection = null) =>
        [
            .. tags.GroupBy(t => (Unit: t.Register!.UnitId ?? connection?.UnitId ?? 0, t.Register!.Area))
                .OrderBy(g => g.Key.Unit)
                .ThenBy(g => g.Key.Area)
                .SelectMany(g => PlanArea(g.Key.Unit, g.Key.Area, g, connection)),
        ];

    /// <summary>The same tags in two blocks, for finding which of them a device refuses; null when there is only one tag.</summary>
    public static (ReadBlock First, ReadBlock Second)? Split(ReadBlock block)
    {
        if (block.Tags.Length < 2)
            return null;
        var half = block.Tags.Length / 2;
        return (BlockOf(block.UnitId, [.. block.Tags.Take(half)]), BlockOf(block.UnitId, [.. block.Tags.Skip(half)]));
    }

    private static IEnumerable<ReadBlock> PlanArea(int unit, RegisterArea area, IEnumerable<Tag> tags, ModbusConnection? connection)
    {
        // A device's limits are said in registers; sixteen of its bits are as long as one.
        var perPlace = area is RegisterArea.Coil or RegisterArea.DiscreteInput ? 16 : 1;
        var most = Math.Min(
            (connection?.LargestRead ?? ModbusLimits.ReadRegisters) * perPlace,
            perPlace > 1 ? ModbusLimits.ReadBits : ModbusLimits.ReadRegisters
        );
        var gap = (connection?.Gap ?? RegisterGap) * perPlace;
        var members = new List<Tag>();
        var (start, end) = (0, 0);
        foreach (var tag in tags.OrderBy(t => t.Register!.Offset).ThenBy(t => t.Id))
        {
            var tagEnd = EndOf(tag);
            if (members.Count > 0 && (tag.Register!.Offset - end > gap || Math.Max(end, tagEnd) - start > most))
            {
                yield return BlockOf(unit, [.. members]);
                members.Clear();
            }
            if (members.Count == 0)
                (start, end) = (tag.Register!.Offset, tagEnd);
            members.Add(tag);
            end = Math.Max(end, tagEnd);
        }
        if (members.Count > 0)
            yield return BlockOf(unit, [.. members]);
    }

    private static ReadBlock BlockOf(int unit, ImmutableArray<Tag> tags)
    {
        var start = tags.Min(t => t.Register!.Offset);
        return new ReadBlock(unit, tags[0].Register!.Area, start, tags.Max(EndOf) - start, tags);
    }

    private static int EndOf(Tag tag) => tag.Register!.Offset + tag.Places;
}
