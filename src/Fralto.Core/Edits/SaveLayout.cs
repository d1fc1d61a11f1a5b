using System.Collections.Immutable;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Adds a layout, or changes one when an id is given; the tags of all its devices follow.</summary>
/// <remarks>A point keeps its id, and with it tags and bindings, by its name; one whose name is new by its place, when nothing else stands
/// there.</remarks>
/// <param name="Points">The points; their ids are passed over.</param>
public sealed record SaveLayout(long? Id, string Code, string Name, string Separator, ImmutableArray<LayoutPoint> Points) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        DeviceLayout? before = null;
        if (Id is { } id && !model.Layouts.TryGetValue(id, out before))
            return Gone("The layout");
        var next = model.NextId;
        var layoutId = Id ?? next++;
        var left = before?.Points.ToList() ?? [];
        LayoutPoint? Take(Func<LayoutPoint, bool> which)
        {
            var found = left.FirstOrDefault(which);
            if (found is not null)
                left.Remove(found);
            return found;
        }
        var byName = Points.Select(p => Take(b => string.Equals(b.Name, p.Name, StringComparison.OrdinalIgnoreCase))).ToArray();
        var points = Points
            .Select(
                (p, i) => p with { Id = (byName[i] ?? Take(b => (b.Area, b.Offset, b.Bit) == (p.Area, p.Offset, p.Bit)))?.Id ?? next++ }
            )
            .ToImmutableArray();
        var after = new DeviceLayout(layoutId, Code, Name, Separator, points);
        var problems = EntityRules.Problems(model, after).ToList();
        if (model.Layouts.Values.Any(l => l.Id != Id && string.Equals(l.Code, Code, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Code), $"There is already a layout with the code {Code}."));
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);
        var devices = model.Devices.Values.Where(d => d.LayoutId == layoutId).OrderBy(d => d.Id).ToArray();
        var tags = new DeviceTags(model, next, devices.Select(d => d.Id));
        foreach (var device in devices)
            tags.Follow(device, after);
        if (tags.Problems.Count > 0)
            return EditOutcome.Refused(tags.Problems);
        if (after.Equals(before))
            return EditOutcome.Refused("", "The layout says this already.");
        var moved = $"{tags.Added} tags added, {tags.Changed} changed, {tags.Removed} taken out";
        return EditOutcome.Changed(
            before is null
                ? $"Add layout {Name}"
                : $"Change layout {Name}{(devices.Length == 0 ? "" : $": {moved} on {Count(devices.Length, "device")}")}",
            [new(before, after), .. tags.Changes]
        );
    }
}
