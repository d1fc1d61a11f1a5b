using System.Collections.Immutable;
using System.Text.Json;
using Fralto.Core.Controllers;
using Fralto.Core.Exchange;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;

namespace Fralto.Links.OpcUa;

/// <summary>Types and objects of a server, as the child tells them.</summary>
internal static class ServerLibrary
{
    /// <summary>Elements of an array that become properties each.</summary>
    private const int MostElements = 16;

    private const uint MayWrite = 2;
    private const string TypeWord = "Type";

    /// <summary>The library of an answer.</summary>
    public static TypeLibrary Of(JsonElement said)
    {
        var states = new Dictionary<string, LibraryStates>(StringComparer.OrdinalIgnoreCase);
        var types = said.GetProperty("types").EnumerateArray().Select(t => TypeOf(t, states)).ToImmutableArray();
        var objects = said.GetProperty("instances").EnumerateArray().ToArray();
        var codes = objects
            .GroupBy(o => Path(o)[^1], StringComparer.OrdinalIgnoreCase)
            .ToDictionary(g => g.Key, g => g.Count(), StringComparer.OrdinalIgnoreCase);
        return new([.. states.Values], types, [.. objects.Select(o => ObjectOf(o, codes))]);
    }

    private static LibraryType TypeOf(JsonElement type, Dictionary<string, LibraryStates> states)
    {
        var name = type.GetProperty("name").GetString()!;
        var bare = name.Length > TypeWord.Length && name.EndsWith(TypeWord, StringComparison.Ordinal) ? name[..^TypeWord.Length] : name;
        return new(
            type.GetProperty("node").GetString()!,
            name,
            Words(bare),
            type.GetProperty("description").GetString() ?? "",
            type.GetProperty("base").GetString(),
            [.. type.GetProperty("variables").EnumerateArray().SelectMany(v => VariablesOf(v, bare, states))],
            [
                .. type.GetProperty("parts")
                    .EnumerateArray()
                    .Select(p => new LibraryPart(
                        string.Join(' ', Path(p)),
                        Words(string.Join(' ', Path(p))),
                        p.GetProperty("type").GetString()!,
                        null
                    )),
            ]
        );
    }

    private static IEnumerable<LibraryVariable> VariablesOf(JsonElement node, string type, Dictionary<string, LibraryStates> states)
    {
        if (BrowsedNode.TypeOf(node.GetProperty("type").GetString()) is not { } raw)
            yield break;
        var code = string.Join(' ', Path(node));
        var named = BrowsedNode.StatesOf(node);
        string? list = null;
        if (named.Count > 0 && raw != RawType.Bool)
        {
            list = node.GetProperty("enumeration").GetString() is { Length: > 0 } its ? its : $"{type}{code}";
            states.TryAdd(
                list,
                new(
                    list,
                    Words(list),
                    [.. named.Where(s => s.Number is >= int.MinValue and <= int.MaxValue).Select(s => new State((int)s.Number, s.Name))]
                )
            );
        }
        var (spelled, unece) = BrowsedNode.UnitOf(node);
        var unit = unece ?? spelled;
        var kind =
            list is not null ? PropertyType.State
            : raw == RawType.Bool ? PropertyType.Boolean
            : raw == RawType.Text ? PropertyType.Text
            : raw is RawType.Float32 or RawType.Float64 || unit is not null ? PropertyType.Number
            : PropertyType.Integer;
        var one = new LibraryVariable(
            code,
            Words(code),
            kind,
            (node.GetProperty("access").GetUInt32() & MayWrite) != 0 ? PropertyKind.Command : PropertyKind.Measured,
            unit,
            BrowsedNode.RangeOf(node),
            list
        );
        var count = node.GetProperty("count").GetInt32();
        if (count == 1)
            yield return one;
        else
            for (var i = 1; i <= count && count <= MostElements; i++)
                yield return one with
                {
                    Code = Element(code, i),
                    Name = $"{one.Name} {i}",
                };
    }

    private static LibraryObject ObjectOf(JsonElement its, Dictionary<string, int> codes)
    {
        var path = Path(its);
        // Objects of one name, parts of several others, are called after those too.
        var name = codes[path[^1]] > 1 && path.Length > 1 ? $"{path[^2]} {path[^1]}" : path[^1];
        return new(
            its.GetProperty("node").GetString()!,
            name,
            Words(name),
            null,
            its.GetProperty("type").GetString(),
            null,
            [.. its.GetProperty("variables").EnumerateArray().SelectMany(BrowsedNode.ItemsOf).SelectMany(Elements)]
        );
    }

    /// <summary>An array as its elements, counted from 1 as their properties are.</summary>
    private static IEnumerable<SourceItem> Elements(SourceItem item) =>
        item.Count is 1 or > MostElements
            ? [item]
            : Enumerable
                .Range(0, item.Count)
                .Select(i =>
                    item with
                    {
                        Address = item.Address.ElementAt(i)!,
                        Path = [.. item.Path.SkipLast(1), Element(item.Path[^1], i + 1)],
                        Count = 1,
                        Value = "",
                    }
                );

    private static string Element(string name, int number) => char.IsDigit(name[^1]) ? $"{name}_{number}" : $"{name}{number}";

    private static string[] Path(JsonElement node) => [.. node.GetProperty("path").EnumerateArray().Select(p => p.GetString()!)];

    /// <summary>A name in words: StageTemperatures is stage temperatures, with the first letter large.</summary>
    private static string Words(string name)
    {
        var words = new System.Text.StringBuilder();
        for (var i = 0; i < name.Length; i++)
        {
            var begins =
                i > 0 && char.IsUpper(name[i]) && char.IsLower(name[i - 1]) || i > 0 && char.IsDigit(name[i]) && char.IsLetter(name[i - 1]);
            if (begins)
                words.Append(' ');
            words.Append(begins && i + 1 < name.Length && char.IsLower(name[i + 1]) ? char.ToLowerInvariant(name[i]) : name[i]);
        }
        return words.ToString();
    }
}
