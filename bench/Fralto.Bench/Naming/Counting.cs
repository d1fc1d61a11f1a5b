using System.Globalization;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;

namespace Fralto.Bench.Naming;

/// <summary>What places in an array or a block tell of one template's instances, given one that is bound: every way of counting is tried
/// one after the other, and a cell is told where none that names as many tags as the right one gives it another tag. This asks nothing
/// of the rules that are measured.</summary>
internal sealed class Counting
{
    private const int Furthest = 400;
    private readonly NamingPlant _plant;
    private readonly Equipment[] _units;
    private readonly Dictionary<(long Controller, string Stem, int Place), Tag> _tags = [];
    private readonly (long Property, Tag Tag, string Stem, int Place)[] _shown;
    private readonly long[] _controllers;
    private readonly int[][] _keys;
    private readonly int _example;
    private readonly IReadOnlyList<long?[]> _best;

    private Counting(NamingPlant plant, Equipment example, int step)
    {
        var index = plant.Model.Index;
        var site = index.LineageOf(example.Id)[1];
        _plant = plant;
        _units =
        [
            .. plant.Model.Index.InstancesOf(example.TemplateId!.Value).Where(e => index.LineageOf(e.Id)[1] == site).OrderBy(e => e.Id),
        ];
        _example = Array.FindIndex(_units, e => e.Id == example.Id);
        _controllers =
        [
            .. plant
                .Truth.Where(t => index.LineageOf(t.Key.EquipmentId)[1] == site)
                .Select(t => plant.Model.Tags[t.Value].ControllerId)
                .Distinct(),
        ];
        foreach (var tag in plant.Model.Tags.Values)
            if (Parted(tag.Name) is var (stem, place))
                _tags[(tag.ControllerId, stem, place)] = tag;
        _shown =
        [
            .. plant
                .Model.Templates[example.TemplateId.Value]
                .Properties.Where(p => plant.Truth.ContainsKey((example.Id, p.Id)))
                .Select(p => (p.Id, Tag: plant.Model.Tags[plant.Truth[(example.Id, p.Id)]]))
                .Select(p => (p.Id, p.Tag, Parted(p.Tag.Name)!.Value.Stem, Parted(p.Tag.Name)!.Value.Place)),
        ];
        // Through the whole site, anew below each parent, and by their own numbers.
        _keys =
        [
            [.. _units.Select((_, i) => i)],
            [.. _units.Select((u, i) => _units.Take(i).Count(o => o.ParentId == u.ParentId))],
            [.. _units.Select(u => Parted(u.Code) is var (_, number) ? number : 0)],
        ];
        var right = NamedBy(_keys[0], step);
        var fewest = Distinct(right);
        _best =
        [
            .. _keys
                .SelectMany(k => Enumerable.Range(-Furthest, 2 * Furthest + 1).Select(s => NamedBy(k, s)))
                .Where(n => Distinct(n) >= fewest),
        ];
    }

    /// <param name="plant">The plant.</param>
    /// <param name="example">The instance that is bound.</param>
    /// <param name="step">How far apart two that follow each other are, rightly.</param>
    public static Counting Of(NamingPlant plant, Equipment example, int step) => new(plant, example, step);

    /// <summary>Those of the cells that are told.</summary>
    public IEnumerable<(long EquipmentId, long PropertyId)> Told(IEnumerable<(long EquipmentId, long PropertyId)> cells)
    {
        foreach (var cell in cells)
        {
            var (unit, shown) = (
                Array.FindIndex(_units, u => u.Id == cell.EquipmentId),
                Array.FindIndex(_shown, s => s.Property == cell.PropertyId)
            );
            if (shown >= 0 && _best.All(n => n[unit * _shown.Length + shown] == _plant.Truth[cell]))
                yield return cell;
        }
    }

    /// <summary>The tag of each unit and property if units are so far apart; null where there is none of the type.</summary>
    private long?[] NamedBy(int[] keys, int step)
    {
        var named = new long?[_units.Length * _shown.Length];
        for (var u = 0; u < _units.Length; u++)
        for (var s = 0; s < _shown.Length; s++)
        {
            var (_, example, stem, place) = _shown[s];
            // Another hall of the site may have a controller of its own, which counts on.
            var at = place + step * (keys[u] - keys[_example]);
            foreach (var controller in _controllers)
                if (
                    _tags.TryGetValue((controller, stem, at), out var tag)
                    && tag.Type == example.Type
                    && tag.Unit == example.Unit
                    && tag.Description == example.Description
                )
                    named[u * _shown.Length + s] = tag.Id;
        }
        return named;
    }

    private static int Distinct(long?[] named) => named.Where(n => n is not null).Distinct().Count();

    private static (string Stem, int Place)? Parted(string name)
    {
        var end = name.TrimEnd(']');
        var from = end.Length;
        while (from > 0 && char.IsAsciiDigit(end[from - 1]))
            from--;
        return from < end.Length && end.Length - from < 9
            ? (end[..from], int.Parse(end[from..], NumberStyles.None, CultureInfo.InvariantCulture))
            : null;
    }
}
