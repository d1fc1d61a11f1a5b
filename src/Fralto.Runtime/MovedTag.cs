using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Runtime;

/// <summary>A tag, or an element of an array, that has changed lately: whoever moves something on the plant finds its tag so.</summary>
/// <param name="Tag">The tag.</param>
/// <param name="Element">The element; null for a single value.</param>
/// <param name="Reading">What it reads.</param>
/// <param name="Feeds">What it feeds; null for nothing.</param>
public sealed record MovedTag(Tag Tag, Slice? Element, TagReading Reading, PropertyBinding? Feeds)
{
    /// <summary>How long a change counts as lately.</summary>
    public static readonly TimeSpan Lately = TimeSpan.FromSeconds(10);

    private const int Most = 30;

    /// <summary>What has changed lately: those that had been quiet longest first.</summary>
    /// <param name="model">The working model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="now">The time now.</param>
    public static IEnumerable<MovedTag> Of(PlantModel model, EngineSnapshot snapshot, DateTimeOffset now)
    {
        var changed = new List<(Tag Tag, Slice? Element, TagReading Reading)>();
        foreach (var tag in model.Tags.Values)
        {
            var readings = snapshot.ReadingsOf(tag);
            for (var i = 0; i < readings.Length; i++)
                if (readings[i].ChangedAt >= now - Lately && readings[i].Changes > 1)
                    changed.Add((tag, tag.IsArray ? new Slice(i) : null, readings[i]));
        }
        return changed
            .OrderBy(t => t.Reading.Changes)
            .ThenByDescending(t => t.Reading.ChangedAt)
            .Take(Most)
            .Select(t => new MovedTag(
                t.Tag,
                t.Element,
                t.Reading,
                model.Index.BindingsOf(t.Tag.Id).FirstOrDefault(b => t.Element is null || b.Slice?.Element == t.Element.Value.Element)
            ));
    }
}
