using System.Globalization;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;

namespace Fralto.Bench.Naming;

/// <summary>What places in an array or a block, or numbers reckoned from those of units, tell of one template's instances, given one that
/// is bound: every way of reckoning is tried one after the other, and a cell is told where none that names as many tags as the right one
/// gives it another tag. This asks nothing of the rules that are measured.</summary>
internal sealed class Reckoning
{
    private const int Furthest = 400;

    // No number of a plant is as large, and it is written as it is.
    private const long Mark = 987_654_321;

    private readonly NamingPlant _plant;
    private readonly Equipment[] _units;
    private readonly (long Property, Tag Tag, long Place)[] _shown;

    /// <summary>Of each unit and each shown property the tags that are called so but for a number, by that number.</summary>
    private readonly Dictionary<long, List<Tag>>[,] _called;
    private readonly int[][] _keys;
    private readonly int _example;
    private readonly IReadOnlyList<long?[]> _best;

    /// <param name="plant">The plant.</param>
    /// <param name="example">The instance that is bound.</param>
    /// <param name="named">What a unit's tag of a shown property is called, with the number to be put in the middle.</param>
    /// <param name="step">How far apart two that follow each other are, rightly.</param>
    /// <param name="byNumber">Whether it is their own numbers that they follow, and not where they stand.</param>
    public Reckoning(
        NamingPlant plant,
        Equipment example,
        Func<Equipment, long, (string Before, string After)?> named,
        int step,
        bool byNumber
    )
    {
        var index = plant.Model.Index;
        var site = index.LineageOf(example.Id)[1];
        _plant = plant;
        _units = [.. index.InstancesOf(example.TemplateId!.Value).Where(e => index.LineageOf(e.Id)[1] == site).OrderBy(e => e.Id)];
        _example = Array.FindIndex(_units, e => e.Id == example.Id);
        var controllers = plant
            .Truth.Where(t => index.LineageOf(t.Key.EquipmentId)[1] == site)
            .Select(t => plant.Model.Tags[t.Value].ControllerId)
            .ToHashSet();
        Tag[] tags = [.. plant.Model.Tags.Values.Where(t => controllers.Contains(t.ControllerId))];
        _shown =
        [
            .. plant
                .Model.Templates[example.TemplateId.Value]
                .Properties.Where(p => plant.Truth.ContainsKey((example.Id, p.Id)))
                .Select(p => (p.Id, Tag: plant.Model.Tags[plant.Truth[(example.Id, p.Id)]]))
                .Select(p => (p.Id, p.Tag, Place: Between(p.Tag.Name, named(example, p.Id)!.Value)!.Value)),
        ];
        // Another hall of the site may have a controller of its own, which counts on.
        var byCall = new Dictionary<(string, string), Dictionary<long, List<Tag>>>();
        _called = new Dictionary<long, List<Tag>>[_units.Length, _shown.Length];
        for (var u = 0; u < _units.Length; u++)
        for (var s = 0; s < _shown.Length; s++)
        {
            var call = named(_units[u], _shown[s].Property) ?? ("\0", "\0");
            if (!byCall.TryGetValue(call, out var called))
            {
                byCall[call] = called = [];
                foreach (var tag in tags)
                    if (Between(tag.Name, call) is { } number)
                        (called.TryGetValue(number, out var some) ? some : called[number] = []).Add(tag);
            }
            _called[u, s] = called;
        }
        // Through the whole site, anew below each parent, and by their own numbers.
        _keys =
        [
            [.. _units.Select((_, i) => i)],
            [.. _units.Select((u, i) => _units.Take(i).Count(o => o.ParentId == u.ParentId))],
            [.. _units.Select(u => NumberOf(u.Code))],
        ];
        // Places may be taken from the last to the first; nobody calls pump 1 the last of them.
        var least = byNumber ? 1 : -Furthest;
        var fewest = Distinct(NamedBy(_keys[byNumber ? 2 : 0], step));
        _best =
        [
            .. _keys
                .SelectMany(k => Enumerable.Range(least, Furthest - least + 1).Select(s => NamedBy(k, s)))
                .Where(n => Distinct(n) >= fewest),
        ];
    }

    /// <param name="drawn">The plant.</param>
    /// <param name="example">The instance that is bound.</param>
    /// <param name="convention">How its tags are named.</param>
    public static Reckoning Of(GrammarPlant drawn, Equipment example, Convention convention)
    {
        var plant = drawn.Plant;
        return convention.Counts
            ? ByPlace(plant, example, convention.StepOf(plant.Model.Templates[example.TemplateId!.Value].Properties.Length))
            : new(plant, example, Named, convention.Step, byNumber: true);

        (string, string)? Named(Equipment unit, long property)
        {
            if (!drawn.Places.TryGetValue((unit.Id, property), out var place))
                return null;
            var parts = convention.NameOf(place, Mark).Split(Mark.ToString(CultureInfo.InvariantCulture));
            return parts.Length == 2 ? (parts[0], parts[1]) : null;
        }
    }

    /// <summary>By the last number of a name: a place in an array or a block, which all units share.</summary>
    /// <param name="plant">The plant.</param>
    /// <param name="example">The instance that is bound.</param>
    /// <param name="step">How far apart two that follow each other are, rightly.</param>
    public static Reckoning ByPlace(NamingPlant plant, Equipment example, int step) =>
        new(
            plant,
            example,
            (_, property) =>
                plant.Truth.TryGetValue((example.Id, property), out var its) && plant.Model.Tags[its].Name is var name
                    ? (name.TrimEnd(']').TrimEnd([.. "0123456789"]), name.EndsWith(']') ? "]" : "")
                    : null,
            step,
            byNumber: false
        );

    /// <summary>Those of the cells that are told.</summary>
    /// <param name="cells">The cells.</param>
    /// <param name="isSaid">Whether names have a word for the property, also for one that was not shown: then all that has to be told is
    /// its unit.</param>
    public IEnumerable<(long EquipmentId, long PropertyId)> Told(
        IEnumerable<(long EquipmentId, long PropertyId)> cells,
        bool isSaid = false
    )
    {
        foreach (var cell in cells)
        {
            var unit = Array.FindIndex(_units, u => u.Id == cell.EquipmentId);
            var its = Enumerable
                .Range(0, _shown.Length)
                .Where(s => _shown[s].Property == cell.PropertyId || (isSaid && !IsShown(cell.PropertyId)))
                .Where(s => _plant.Truth.ContainsKey((cell.EquipmentId, _shown[s].Property)))
                .ToArray();
            if (its.Length > 0 && its.All(s => IsTold(unit, s)))
                yield return cell;
        }

        bool IsShown(long property) => Array.Exists(_shown, s => s.Property == property);
        bool IsTold(int unit, int shown) =>
            _best.All(n => n[unit * _shown.Length + shown] == _plant.Truth[(_units[unit].Id, _shown[shown].Property)]);
    }

    /// <summary>The tag of each unit and property if units are so far apart; null where there is none of the type.</summary>
    private long?[] NamedBy(int[] keys, int step)
    {
        var named = new long?[_units.Length * _shown.Length];
        for (var u = 0; u < _units.Length; u++)
        for (var s = 0; s < _shown.Length; s++)
        {
            var (_, example, place) = _shown[s];
            if (_called[u, s].TryGetValue(place + step * (keys[u] - keys[_example]), out var tags))
                foreach (var tag in tags)
                    if (tag.Type == example.Type && tag.Unit == example.Unit && tag.Description == example.Description)
                        named[u * _shown.Length + s] = tag.Id;
        }
        return named;
    }

    private static int Distinct(long?[] named) => named.Where(n => n is not null).Distinct().Count();

    private static int NumberOf(string code) =>
        int.TryParse(code.AsSpan(code.AsSpan().TrimEnd("0123456789").Length), NumberStyles.None, CultureInfo.InvariantCulture, out var its)
            ? its
            : 0;

    /// <summary>The number that stands in a name between two texts; null where something else does.</summary>
    private static long? Between(string name, (string Before, string After) call) =>
        name.Length > call.Before.Length + call.After.Length
        && name.StartsWith(call.Before, StringComparison.Ordinal)
        && name.EndsWith(call.After, StringComparison.Ordinal)
        && long.TryParse(
            name.AsSpan(call.Before.Length, name.Length - call.Before.Length - call.After.Length),
            NumberStyles.None,
            CultureInfo.InvariantCulture,
            out var number
        )
            ? number
            : null;
}
