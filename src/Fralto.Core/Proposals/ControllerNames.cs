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

    /// <param name="controllers">Name and id of each controller.</param>
    /// <param name="serving">Instances with the controller that feeds them.</param>
    /// <param name="nodes">Sheets of all nodes.</param>
    public ControllerNames(
        IEnumerable<(string Name, long Id)> controllers,
        IEnumerable<(InstanceNames Instance, string Controller)> serving,
        PlantNames nodes
    )
    {
        _nodes = nodes;
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
        var fewest = ways.Select(w => w.Count(p => p.Depth < 0)).DefaultIfEmpty(0).Min();
        _ways.AddRange(ways.Where(w => w.Count(p => p.Depth < 0) == fewest));
    }

    /// <summary>One piece of a name: fixed, or the code or the number of the place so far from the top.</summary>
    private sealed record Part(NameToken Fixed, int Depth, bool OfCode);

    /// <summary>The controller that is called after the place of an instance; null where the names do not say.</summary>
    public long? For(InstanceNames instance)
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
