using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>What becomes of the tags of devices when their layout, name or base changes.</summary>
internal sealed class DeviceTags(PlantModel model, long nextId, IEnumerable<long> followed)
{
    private readonly HashSet<long> _followed = [.. followed];
    private readonly Dictionary<(long Controller, string Name), Tag> _named = new(new NameComparer());
    private readonly Dictionary<long, (HashSet<string> Names, Dictionary<(string, Scaling.RawType, int), Tag> Places)> _staying = [];

    /// <summary>The next id that is free.</summary>
    public long NextId { get; private set; } = nextId;

    public List<ModelChange> Changes { get; } = [];

    public List<Problem> Problems { get; } = [];

    public int Added => Changes.Count(c => c is { Before: null, After: Tag });

    public int Changed => Changes.Count(c => c is { Before: Tag, After: Tag });

    public int Removed => Changes.Count(c => c is { Before: Tag, After: null });

    /// <summary>Makes the tags of a device those of a layout.</summary>
    public void Follow(Device device, DeviceLayout layout)
    {
        var controller = model.Controllers[device.ControllerId];
        var own = model.Index.TagsOf(controller.Id).Where(t => t.DeviceId == device.Id).ToDictionary(t => t.PointId!.Value);
        var (names, places) = Staying(controller);
        foreach (var point in layout.Points)
        {
            var before = own.GetValueOrDefault(point.Id);
            var after = device.TagOf(layout, point, before?.Id ?? NextId++);
            own.Remove(point.Id);
            foreach (var problem in EntityRules.Problems(model, controller, after))
                Refuse($"{after.Name}: {problem.Message}");
            if (names.Contains(after.Name))
                Refuse($"{controller.Name} already has a tag named {after.Name}.");
            if (!_named.TryAdd((controller.Id, after.Name), after))
                Refuse($"{after.Name} would stand twice in {controller.Name}.");
            if (TagRules.PlaceOf(controller, after) is { } place && !places.TryAdd(place, after))
                Refuse($"{after.Name}: {places[place].Name} is {after.TypeText} at {after.Address} already.");
            foreach (var misfit in before is null ? [] : TagRules.Misfits(model, after))
                Refuse(misfit);
            if (before is null || before != after)
                Changes.Add(new(before, after));
        }
        foreach (var tag in own.Values)
            Remove(tag);
    }

    /// <summary>Takes out all tags of a device.</summary>
    public void Drop(Device device)
    {
        foreach (var tag in model.Index.TagsOf(device.ControllerId).Where(t => t.DeviceId == device.Id))
            Remove(tag);
    }

    private void Remove(Tag tag)
    {
        Changes.AddRange(model.Index.BindingsOf(tag.Id).Select(b => new ModelChange(b, null)));
        Changes.Add(new(tag, null));
    }

    /// <summary>Names and places of the tags that stay what they are in this edit, worked out once for a controller however many devices
    /// follow.</summary>
    private (HashSet<string> Names, Dictionary<(string, Scaling.RawType, int), Tag> Places) Staying(Controller controller)
    {
        if (_staying.TryGetValue(controller.Id, out var known))
            return known;
        var tags = model.Index.TagsOf(controller.Id).Where(t => t.DeviceId is not { } its || !_followed.Contains(its)).ToArray();
        var places = new Dictionary<(string, Scaling.RawType, int), Tag>();
        foreach (var tag in tags)
            if (TagRules.PlaceOf(controller, tag) is { } place)
                places.TryAdd(place, tag);
        return _staying[controller.Id] = (tags.Select(t => t.Name).ToHashSet(StringComparer.OrdinalIgnoreCase), places);
    }

    private void Refuse(string message) => Problems.Add(new("", message));

    private sealed class NameComparer : IEqualityComparer<(long Controller, string Name)>
    {
        public bool Equals((long Controller, string Name) x, (long Controller, string Name) y) =>
            x.Controller == y.Controller && string.Equals(x.Name, y.Name, StringComparison.OrdinalIgnoreCase);

        public int GetHashCode((long Controller, string Name) obj) =>
            HashCode.Combine(obj.Controller, StringComparer.OrdinalIgnoreCase.GetHashCode(obj.Name));
    }
}
