using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>How controllers are called after the places they serve, learned from those that serve one: plc1A2 in area A2 of site 1 says
/// that plc1A1 serves area A1 of it.</summary>
internal sealed class ControllerNames
{
    private const int MostWays = 64;
    private const int MostTokens = 12;

    private readonly PlantNames _nodes;
    private readonly Dictionary<string, long?> _byKey = new(StringComparer.Ordinal);
    private readonly List<Part[]> _ways = [];
    private readonly Lazy<HashSet<long>> _homes;

    /// <param name="controllers">Name and id of each controller.</param>
    /// <param name="serving">Instances with the controller that feeds them.</param>
    /// <param name="instances">An instance of each place.</param>
    /// <param name="nodes">Sheets of all nodes.</param>
    public ControllerNames(
        IEnumerable<(string Name, long Id)> controllers,
        IEnumerable<(InstanceNames Instance, string Controller)> serving,
        IEnumerable<InstanceNames> instances,
        PlantNames nodes
    )
    {
        _nodes = nodes;
        _homes = new(() => [.. instances.Select(For).OfType<long>()]);
        foreach (var (name, id) in controllers)
            // Two that read alike are told apart by nobody.
            if (!_byKey.TryAdd(NameToken.KeyOf(NameToken.Of(name)), id))
                _byKey[NameToken.KeyOf(NameToken.Of(name))] = null;
        // One of each place is enough; all have to be explained.
        var known = serving
            .DistinctBy(s => (s.Instance.Instance.ParentId, s.Controller))
            .Select(s => (s.Instance, s.Controller, Key: NameToken.KeyOf(NameToken.Of(s.Controller))))
            .ToArray();
        if (known.Length == 0)
            return;
        // What could follow a place does: where all that is bound lies in one area, its name is no fixed part.
        var ways = WaysOf(NameToken.Of(known[0].Controller), known[0].Instance)
            .Take(MostWays)
            .Where(way => known.All(k => KeyFor(way, k.Instance) == k.Key))
            .ToArray();
        // The least that is fixed; no place said twice, for plc1A1 is of site 1, area 1; and the greater place before the smaller.
        var sorted = ways.GroupBy(w => (w.Count(p => p.Depth < 0), -PlacesOf(w).Distinct().Count(), IsFromTheTop(w) ? 0 : 1))
            .MinBy(g => g.Key);
        _ways.AddRange(sorted?.AsEnumerable() ?? []);

        static IEnumerable<int> PlacesOf(Part[] way) => way.Select(p => p.Depth).Where(d => d >= 0);
        static bool IsFromTheTop(Part[] way) => PlacesOf(way).SequenceEqual(PlacesOf(way).Order());
    }

    /// <summary>One piece of a name: fixed, or the code or the number of the place so far from the top.</summary>
    private sealed record Part(NameToken Fixed, int Depth, bool OfCode);

    /// <summary>The controller that is called after the place of an instance; null where the names do not say.</summary>
    public long? For(InstanceNames instance)
    {
        if (_ways.Count == 0)
            return null;
        // It is a matter of the places above.
        if (_for.TryGetValue(instance.Instance.ParentId ?? 0, out var known))
            return known;
        return _for[instance.Instance.ParentId ?? 0] = Found(instance);
    }

    /// <summary>True where a controller is called after another place than that of an instance, whose own controller is known.</summary>
    public bool IsOthers(InstanceNames instance, long controllerId) =>
        For(instance) is { } own && own != controllerId && _homes.Value.Contains(controllerId);

    private readonly Dictionary<long, long?> _for = [];

    private long? Found(InstanceNames instance)
    {
        long? found = null;
        foreach (var way in _ways)
        {
            if (KeyFor(way, instance) is not { } key || !_byKey.TryGetValue(key, out var named))
                continue;
            if (named is not { } id)
                return null;
            if (found is { } other && other != id)
                return null;
            found = id;
        }
        return found;
    }

    /// <summary>The ways in which a name follows the places above an instance; one that follows none is left out.</summary>
    private IEnumerable<Part[]> WaysOf(NameToken[] name, InstanceNames instance)
    {
        if (name.Length is 0 or > MostTokens)
            return [];
        var places = instance.Lineage.SkipLast(1).ToArray();
        return From(0).Where(w => w.Any(p => p.Depth >= 0));

        IEnumerable<Part[]> From(int at)
        {
            if (at == name.Length)
            {
                yield return [];
                yield break;
            }
            for (var depth = places.Length - 1; depth >= 0; depth--)
            {
                var code = _nodes.Of(places[depth]).CodeTokens;
                if (
                    code.Length > 0
                    && at + code.Length <= name.Length
                    && code.Select(Word).SequenceEqual(name.Skip(at).Take(code.Length).Select(Word))
                )
                    foreach (var rest in From(at + code.Length))
                        yield return [new(default, depth, true), .. rest];
                if (name[at].IsNumber && _nodes.Of(places[depth]).Number == name[at].Number)
                    foreach (var rest in From(at + 1))
                        yield return [new(default, depth, false), .. rest];
            }
            foreach (var rest in From(at + 1))
                yield return [new(name[at], -1, false), .. rest];
        }

        static (bool, string, long) Word(NameToken token) => (token.IsNumber, token.IsNumber ? "" : token.Text, token.Number);
    }

    private string? KeyFor(Part[] way, InstanceNames instance)
    {
        var key = new KeyWriter(stackalloc char[256]);
        foreach (var part in way)
        {
            if (part.Depth < 0)
                key.Add(part.Fixed);
            else if (part.Depth >= instance.Lineage.Count - 1)
                return null;
            else if (part.OfCode)
                foreach (var token in _nodes.Of(instance.Lineage[part.Depth]).CodeTokens)
                    key.Add(token);
            else if (_nodes.Of(instance.Lineage[part.Depth]).Number is { } number)
                key.Add(number);
            else
                return null;
        }
        return key.ToString();
    }
}
