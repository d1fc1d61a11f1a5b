namespace Fralto.Core.Proposals;

/// <summary>What names say beside the instance where a number in them says nothing, as that of a channel: IO123_SI03_Level and
/// IO517_SI04_Level say the same.</summary>
internal sealed class NamesBeside(TagLexicon lexicon, SpokenPlaces places)
{
    private const double Clearly = 0.8;

    private readonly Dictionary<long, Dictionary<string, List<(int Position, long[] Numbers)>>> _of = [];
    private readonly Dictionary<(long Template, long Property), (string Shape, long[] Numbers)[]> _shown = [];

    /// <summary>True when a tag's name speaks of the instance and says beside it what the name of an example does, but for numbers, and no
    /// other of the instance's tags says it as well, nor an example of another property as much.</summary>
    public bool SaysTheSame(OpenCell cell, int position)
    {
        if (Shown(cell.Matrix, cell.Property.Id) is not { Length: > 0 } shown)
            return false;
        var (shape, numbers) = Of(cell.Instance, position);
        if (numbers.Length == 0 || !Of(cell.Instance).TryGetValue(shape, out var alike))
            return false;
        var own = Agreement(shown, shape, numbers);
        return own >= 0
            && alike.All(a => a.Position == position || Agreement(shown, shape, a.Numbers) < own)
            && cell.Matrix.Properties.All(p =>
                p.Id == cell.Property.Id || Agreement(Shown(cell.Matrix, p.Id), shape, numbers) < Math.Max(own, 1)
            );
    }

    /// <summary>In how many numbers a name is as that of the example most like it; -1 where none says the same words.</summary>
    private static int Agreement((string Shape, long[] Numbers)[] shown, string shape, long[] numbers) =>
        shown.Where(s => s.Shape == shape).Select(s => s.Numbers.Zip(numbers).Count(n => n.First == n.Second)).DefaultIfEmpty(-1).Max();

    private (string Shape, long[] Numbers)[] Shown(TemplateMatrix matrix, long propertyId)
    {
        if (_shown.TryGetValue((matrix.Template.Id, propertyId), out var known))
            return known;
        return _shown[(matrix.Template.Id, propertyId)] = [
            .. matrix
                .Examples[propertyId]
                .Where(e => e.Slice is null && places.Identify(e.Instance, e.Position).Identity > Clearly)
                .Select(e => Of(e.Instance, e.Position)),
        ];
    }

    private Dictionary<string, List<(int Position, long[] Numbers)>> Of(InstanceNames instance)
    {
        if (_of.TryGetValue(instance.Instance.Id, out var known))
            return known;
        var found = _of[instance.Instance.Id] = new(StringComparer.Ordinal);
        foreach (var (position, identity, _) in places.Near(instance))
        {
            if (identity <= Clearly)
                continue;
            var (shape, numbers) = Of(instance, position);
            (found.TryGetValue(shape, out var alike) ? alike : found[shape] = []).Add((position, numbers));
        }
        return found;
    }

    /// <summary>The words of a name beside those that name the instance and its places, and its numbers.</summary>
    private (string Shape, long[] Numbers) Of(InstanceNames instance, int position)
    {
        var rest = places.RestOf(instance, position);
        return rest.Any(t => !t.IsNumber)
            ? (
                $"{lexicon.Tags[position].ControllerId} {string.Join(' ', rest.Select(t => t.IsNumber ? "#" : t.Text))}",
                [.. rest.Where(t => t.IsNumber).Select(t => t.Number)]
            )
            : ("", []);
    }
}
