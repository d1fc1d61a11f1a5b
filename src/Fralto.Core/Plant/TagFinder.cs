using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Scaling;

namespace Fralto.Core.Plant;

/// <summary>Finds tags by what people write; made once for many of them.</summary>
/// <param name="model">The working model.</param>
public sealed class TagFinder(PlantModel model)
{
    private readonly Dictionary<string, Controller> _controllers = model.Controllers.Values.ToDictionary(
        c => c.Name,
        StringComparer.OrdinalIgnoreCase
    );
    private ILookup<string, Tag>? _tags;

    /// <summary>True for the name of a controller.</summary>
    public bool IsController(string name) => _controllers.ContainsKey(name);

    /// <summary>The tag of a name, on a controller or on whichever has it.</summary>
    /// <param name="controller">Name of the controller; null or empty for any.</param>
    /// <param name="name">Name of the tag.</param>
    /// <param name="problem">Why there is none; null when there is.</param>
    public Tag? Find(string? controller, string name, out string? problem)
    {
        problem = null;
        Controller? where = null;
        if (!string.IsNullOrEmpty(controller) && !_controllers.TryGetValue(controller, out where))
        {
            problem = $"There is no controller {controller}{Naming.OrNearest(controller, _controllers.Keys)}";
            return null;
        }
        _tags ??= model.Tags.Values.ToLookup(t => t.Name, StringComparer.OrdinalIgnoreCase);
        var found = _tags[name].Where(t => where is null || t.ControllerId == where.Id).Take(2).ToArray();
        if (found.Length == 1)
            return found[0];
        problem =
            found.Length == 0
                ? $"There is no tag {name}{(where is null ? "" : $" on {where.Name}")}."
                : $"{model.Controllers[found[0].ControllerId].Name} and {model.Controllers[found[1].ControllerId].Name} both have a "
                    + $"tag {name}; say which controller.";
        return null;
    }

    /// <summary>The tag that a text means, or the part of one: plc/CONTACTS[12], STATUS.4.</summary>
    /// <param name="text">Name of the tag, with its controller before a slash and a part after it where they are meant.</param>
    /// <param name="part">The part; null for all of the tag.</param>
    /// <param name="problem">Why there is none; null when there is.</param>
    public Tag? FindPart(string text, out Slice? part, out string? problem)
    {
        part = null;
        var slash = text.IndexOf('/', StringComparison.Ordinal);
        var controller = slash > 0 && IsController(text[..slash]) ? text[..slash] : null;
        var name = controller is null ? text : text[(slash + 1)..];
        if (Find(controller, name, out problem) is { } whole)
            return whole;
        // What follows the name may be the part of the tag that is meant.
        var cut = name.LastIndexOf('[') is > 0 and var bracket ? bracket : name.LastIndexOf('.');
        if (cut <= 0 || Slice.Parse(name[cut..]) is not { } slice || Find(controller, name[..cut], out _) is not { } tag)
            return null;
        (part, problem) = (slice, null);
        return tag;
    }
}
