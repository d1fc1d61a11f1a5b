using Fralto.Core.Controllers;
using Fralto.Core.Plant;

namespace Fralto.Web.Live;

/// <summary>Finds a tag by what people write.</summary>
public static class TagFinder
{
    /// <summary>The tag of a name, on a controller or on whichever has it.</summary>
    /// <param name="model">The working model.</param>
    /// <param name="controller">Name of the controller; null or empty for any.</param>
    /// <param name="name">Name of the tag.</param>
    /// <param name="problem">Why there is none; null when there is.</param>
    public static Tag? Find(PlantModel model, string? controller, string name, out string? problem)
    {
        problem = null;
        var where = string.IsNullOrEmpty(controller) ? null : model.Controllers.Values.FirstOrDefault(c => c.Name.Equals(controller, StringComparison.OrdinalIgnoreCase));
        if (where is null && !string.IsNullOrEmpty(controller))
        {
            problem = $"There is no controller {controller}{Naming.OrNearest(controller, model.Controllers.Values.Select(c => c.Name))}";
            return null;
        }
        var found = (where is null ? model.Tags.Values : model.Index.TagsOf(where.Id)).Where(t => t.Name.Equals(name, StringComparison.OrdinalIgnoreCase)).Take(2).ToArray();
        if (found.Length == 1) return found[0];
        problem = found.Length == 0 ? $"There is no tag {name}{(where is null ? "" : $" on {where.Name}")}."
            : $"{model.Controllers[found[0].ControllerId].Name} and {model.Controllers[found[1].ControllerId].Name} both have a tag {name}; say which controller.";
        return null;
    }
}
