using System.Collections.Immutable;
using System.Text.RegularExpressions;

namespace Fralto.Core.Exchange;

/// <summary>Object types and objects as OPC UA knows them, from a server or a NodeSet2 file: what templates and equipment can be made
/// of.</summary>
/// <param name="States">Enumerations.</param>
/// <param name="Types">Object types, in any order.</param>
/// <param name="Objects">Objects, those above before those below.</param>
public sealed record TypeLibrary(
    ImmutableArray<LibraryStates> States,
    ImmutableArray<LibraryType> Types,
    ImmutableArray<LibraryObject> Objects
)
{
    private static readonly Regex Words = new("[^\\w]+", RegexOptions.None, TimeSpan.FromSeconds(1));

    /// <summary>What is left of it when only some types are wanted: these with what they are made of and what their formulas name, the
    /// enumerations they use, their objects, and what these stand below, as places without a type where that is of none of them.</summary>
    /// <param name="typeIds">Ids of the types that are wanted.</param>
    public TypeLibrary Only(IEnumerable<string> typeIds)
    {
        var types = Types.ToDictionary(t => t.Id);
        var byTemplate = Types.ToLookup(TakeLibrary.CodeOf, t => t.Id, StringComparer.OrdinalIgnoreCase);
        var wanted = new HashSet<string>();
        var open = new Queue<string>(typeIds);
        while (open.TryDequeue(out var id))
            if (types.TryGetValue(id, out var type) && wanted.Add(id))
            {
                if (type.BaseId is { } above)
                    open.Enqueue(above);
                foreach (var part in type.Parts)
                    open.Enqueue(part.TypeId);
                // A formula may name templates of what stands below; a word that only looks like one brings one too many along.
                foreach (var word in type.Variables.SelectMany(v => Words.Split(v.Formula ?? "")).Distinct())
                foreach (var named in byTemplate[word])
                    open.Enqueue(named);
            }
        var objects = Objects.ToDictionary(o => o.Id);
        var kept = new HashSet<string>();
        foreach (var its in Objects)
            for (var at = its; wanted.Contains(its.TypeId ?? "") && at is not null && kept.Add(at.Id); )
                at = at.ParentId is { } parent ? objects.GetValueOrDefault(parent) : null;
        var left = new TypeLibrary(
            States,
            [.. Types.Where(t => wanted.Contains(t.Id))],
            [
                .. Objects
                    .Where(o => kept.Contains(o.Id))
                    .Select(o => wanted.Contains(o.TypeId ?? "") ? o : o with { TypeId = null, Tags = [], Variables = [] }),
            ]
        );
        var used = left
            .Types.SelectMany(t => t.Variables)
            .Concat(left.Objects.SelectMany(o => o.Variables))
            .Select(v => v.States)
            .Concat(left.Objects.SelectMany(o => o.Tags).Select(t => t.StatesName))
            .ToHashSet();
        return left with { States = [.. States.Where(s => used.Contains(s.Code))] };
    }
}
