namespace Fralto.Core.Planning;

/// <summary>Where the points and tags of a plan stood in the one before it: what makes it quick to put one plan in place of another. Worked
/// out beside the engine.</summary>
public sealed class PlanMap
{
    private PlanMap(Plan from, Plan to, int[] points, int[] tags) => (From, To, OldPoints, OldTags) = (from, to, points, tags);

    /// <summary>The plan before.</summary>
    public Plan From { get; }

    /// <summary>The plan after.</summary>
    public Plan To { get; }

    /// <summary>Of each point its number before; -1 for one that was not there.</summary>
    internal int[] OldPoints { get; }

    /// <summary>Of each tag its number before; -1 for one that was not there, or was read in another place or another way: that says
    /// nothing of what is read now.</summary>
    internal int[] OldTags { get; }

    /// <summary>Finds it out.</summary>
    public static PlanMap Between(Plan from, Plan to)
    {
        var points = new int[to.Points.Length];
        for (var i = 0; i < points.Length; i++)
            points[i] = from.PointIndexOf(to.Points[i].EquipmentId, to.Points[i].PropertyId);
        var tags = new int[to.Tags.Length];
        for (var i = 0; i < tags.Length; i++)
        {
            if (to.Tags[i].TagId == PlanTag.NoTag)
            {
                tags[i] = -1;
                continue;
            }
            var first = from.TagIndexOf(to.Tags[i].TagId);
            var old = first < 0 ? -1 : first + to.Tags[i].Element;
            tags[i] = old >= 0 && old < from.Tags.Length && from.Tags[old].IsReadAs(to.Tags[i]) ? old : -1;
        }
        // What a point without a tag holds is its own, for as long as its value comes from where it came from.
        for (var i = 0; i < points.Length; i++)
            if (to.Points[i].Source != PointSource.Tag && points[i] is >= 0 and var old && from.Points[old].Source == to.Points[i].Source)
                tags[to.Points[i].Tag] = from.Points[old].Tag;
        return new(from, to, points, tags);
    }
}
