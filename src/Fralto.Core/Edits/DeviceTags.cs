using Fralto.Core.Controllers;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>What becomes of the tags of devices when their layout, name or base changes.</summary>
internal sealed class DeviceTags(PlantModel model, long nextId)
{
    private readonly Dictionary<(long Controller, string Name), Tag> _named = new(new NameComparer());

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
        var others = model.Index.TagsOf(controller.Id).Where(t => t.DeviceId != device.Id).ToArray();
        var names = others.Select(t => t.Name).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var places = others.Where(t => t.DeviceId is null).GroupBy(t => TagRules.PlaceOf(controller, t)).ToDictionary(g => g.Key ?? default, g => g.First());
        foreach (var point in layout.Points)
        {
            var before = own.GetValueOrDefault(point.Id);
            var after = device.TagOf(layout, point, before?.Id ?? NextId++);
            own.Remove(point.Id);
            foreach (var problem in EntityRules.Problems(model, controller, after)) Refuse($"{after.Name}: {problem.Message}");
            if (names.Contains(after.Name) && !WillGo(controller.Id, after.Name)) Refuse($"{controller.Name} already has a tag named {after.Name}.");
            if (!_named.TryAdd((controller.Id, after.Name), after)) Refuse($"{after.Name} would stand twice in {controller.Name}.");
            if (TagRules.PlaceOf(controller, after) is { } place && places.TryGetValue(place, out var twin)) Refuse($"{after.Name}: {twin.Name} is {twin.TypeText} at {twin.Address} already; take that tag out first.");
            foreach (var misfit in before is null ? [] : TagRules.Misfits(model, after)) Refuse(misfit);
            if (before is null || before != after) Changes.Add(new(before, after));
        }
        foreach (var tag in own.Values) Remove(tag);
    }

    /// <summary>Takes out all tags of a device.</summary>
    public void Drop(Device device)
    {
        foreach (var tag in model.Index.TagsOf(device.ControllerId).Where(t => t.DeviceId == device.Id)) Remove(tag);
    }

    private void Remove(Tag tag)
    {
        Changes.AddRange(model.Index.BindingsOf(tag.Id).Select(b => new ModelChange(b, null)));
        Changes.Add(new(tag, null));
    }

    /// <summary>True when the tag that has a name now is one of a device, and is renamed or goes in the same edit.</summary>
    private bool WillGo(long controllerId, string name) => model.Index.TagsOf(controllerId).Any(t => t.DeviceId is not null && string.Equals(t.Name, name, StringComparison.OrdinalIgnoreCase));

    private void Refuse(string message) => Problems.Add(new("", message));

    private sealed class NameComparer : IEqualityComparer<(long Controller, string Name)>
    {
        public bool Equals((long Controller, string Name) x, (long Controller, string Name) y) => x.Controller == y.Controller && string.Equals(x.Name, y.Name, StringComparison.OrdinalIgnoreCase);

        public int GetHashCode((long Controller, string Name) obj) => HashCode.Combine(obj.Controller, StringComparer.OrdinalIgnoreCase.GetHashCode(obj.Name));
    }
}
