using System.Collections.Immutable;
using Fralto.Core.Controllers;
using Fralto.Core.NamingRules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>All tags of a model by what they are called, read once for as long as the tags stay the same.</summary>
internal sealed class TagLexicon
{
    internal const int LongestMark = 4;
    private readonly Dictionary<string, int>[] _heads;
    private readonly int[][] _next;
    private readonly string[]?[] _sorted = new string[]?[Enum.GetValues<TagFace>().Length];

    /// <param name="tags">The tags.</param>
    /// <param name="takesText">False where no cell could take a text: what tags of texts are called says nothing then.</param>
    public TagLexicon(ImmutableDictionary<long, Tag> tags, bool takesText)
    {
        Tags = [.. tags.Values.OrderBy(t => t.Id)];
        PositionOf = Tags.Select((t, i) => (t.Id, i)).ToDictionary(p => p.Id, p => p.i);
        Tokens = [.. Enum.GetValues<TagFace>().Select(_ => new NameToken[Tags.Length][])];
        _heads = [.. Tokens.Select(_ => new Dictionary<string, int>(Tags.Length, StringComparer.Ordinal))];
        _next = [.. Tokens.Select(_ => new int[Tags.Length])];
        // Tags of a plant are called by few words, each of them many times.
        var words = new HashSet<string>(StringComparer.Ordinal);
        for (var i = 0; i < Tags.Length; i++)
            foreach (var face in Enum.GetValues<TagFace>())
            {
                var tokens = Tokens[(int)face][i] =
                    (takesText || Tags[i].Type != RawType.Text) && TextOf(Tags[i], face) is { Length: > 0 } text
                        ? NameToken.Of(text, words)
                        : [];
                _next[(int)face][i] = -1;
                if (tokens.Length == 0)
                    continue;
                var key = NameToken.KeyOf(tokens);
                _next[(int)face][i] = _heads[(int)face].TryGetValue(key, out var head) ? head : -1;
                _heads[(int)face][key] = i;
            }
    }

    public Tag[] Tags { get; }

    public IReadOnlyDictionary<long, int> PositionOf { get; }

    /// <summary>Words and numbers by face and position.</summary>
    public NameToken[][][] Tokens { get; }

    /// <summary>The text of a tag that a rule is about; null where it says nothing.</summary>
    public static string? TextOf(Tag tag, TagFace face) =>
        face switch
        {
            TagFace.Name => tag.Name,
            TagFace.Description => tag.Description.Length == 0 ? null : tag.Description,
            _ => tag.Address.IsWords && tag.Address.Place != tag.Name ? tag.Address.Place : null,
        };

    /// <summary>Positions of the tags with a key.</summary>
    public IEnumerable<int> With(TagFace face, ReadOnlySpan<char> key) =>
        _heads[(int)face].GetAlternateLookup<ReadOnlySpan<char>>().TryGetValue(key, out var head) ? Chain(face, head) : [];

    /// <summary>Positions of the tags whose text is a tag's but for its numbers, which may be others.</summary>
    public IReadOnlyList<int> Shaped(TagFace face, int like)
    {
        var shapes = _shapes[(int)face] ??= ShapesOf(face, ShapeOf);
        return shapes.GetValueOrDefault(ShapeOf(Tokens[(int)face][like])) ?? [];
    }

    /// <summary>The same, and letters that stand by themselves may be others as well.</summary>
    public IReadOnlyList<int> Lettered(TagFace face, int like)
    {
        var shapes = _lettered[(int)face] ??= ShapesOf(face, LetteredOf);
        return shapes.GetValueOrDefault(LetteredOf(Tokens[(int)face][like])) ?? [];
    }

    private Dictionary<string, List<int>> ShapesOf(TagFace face, Func<NameToken[], string> shapeOf)
    {
        var shapes = new Dictionary<string, List<int>>(StringComparer.Ordinal);
        for (var i = 0; i < Tags.Length; i++)
        {
            if (Tokens[(int)face][i].Length == 0)
                continue;
            var shape = shapeOf(Tokens[(int)face][i]);
            if (!shapes.TryGetValue(shape, out var list))
                shapes[shape] = list = [];
            list.Add(i);
        }
        return shapes;
    }

    private static string ShapeOf(NameToken[] tokens) => string.Join(' ', tokens.Select(t => t.IsNumber ? "#" : t.Text));

    private static string LetteredOf(NameToken[] tokens) => string.Join(' ', tokens.Select(t => t.IsNumber || t.IsLetter ? "#" : t.Text));

    private readonly Dictionary<string, List<int>>?[] _lettered = new Dictionary<string, List<int>>?[Enum.GetValues<TagFace>().Length];
    private readonly Dictionary<string, List<int>>?[] _shapes = new Dictionary<string, List<int>>?[Enum.GetValues<TagFace>().Length];

    /// <summary>The words at the end of a name that most tags that end so have behind the whole name of another, as a limit or a test value
    /// does; null where there are none.</summary>
    public string? Appended(int position)
    {
        _appended ??= AppendedOf();
        return EndsOf(position).FirstOrDefault(e => _appended.Contains(e.End)).End;
    }

    private HashSet<string> AppendedOf()
    {
        var ends = new Dictionary<string, (int Behind, int All)>(StringComparer.Ordinal);
        for (var i = 0; i < Tags.Length; i++)
            foreach (var (end, before) in EndsOf(i))
            {
                var (behind, all) = ends.GetValueOrDefault(end);
                ends[end] = (
                    behind + (Has(TagFace.Name, NameToken.KeyOf(Tokens[(int)TagFace.Name][i].AsSpan(0, before))) ? 1 : 0),
                    all + 1
                );
            }
        return [.. ends.Where(e => e.Value.Behind >= FewestBehind && e.Value.Behind >= MostlyBehind * e.Value.All).Select(e => e.Key)];
    }

    /// <summary>The last word of a name, and the last two, with how many parts stand before them.</summary>
    private IEnumerable<(string End, int Before)> EndsOf(int position)
    {
        var its = Tokens[(int)TagFace.Name][position];
        for (var words = 1; words <= MostAppended && words < its.Length && !its[^words].IsNumber; words++)
            yield return (NameToken.KeyOf(its.AsSpan(its.Length - words)), its.Length - words);
    }

    private HashSet<string>? _appended;
    private const int MostAppended = 2;
    private const int FewestBehind = 3;
    private const double MostlyBehind = 0.5;

    /// <summary>True when some tag has a key.</summary>
    public bool Has(TagFace face, ReadOnlySpan<char> key) => _heads[(int)face].GetAlternateLookup<ReadOnlySpan<char>>().ContainsKey(key);

    /// <summary>The keys of all tags.</summary>
    public KeyStretch AllOf(TagFace face) => new(0, Sorted(face).Length, 0);

    /// <summary>Of keys that begin alike those that go on with a word or number; an empty stretch where none does.</summary>
    public KeyStretch Narrow(TagFace face, KeyStretch keys, ReadOnlySpan<char> text)
    {
        var sorted = Sorted(face);
        // Two numbers that follow each other are kept apart.
        if (keys.Begun > 0 && char.IsAsciiDigit(text[0]) && char.IsAsciiDigit(sorted[keys.From][keys.Begun - 1]))
            keys = Among(sorted, keys, ".");
        return keys.IsEmpty ? default : Among(sorted, keys, text);
    }

    private string[] Sorted(TagFace face) => _sorted[(int)face] ??= [.. _heads[(int)face].Keys.Order(StringComparer.Ordinal)];

    private static KeyStretch Among(string[] sorted, KeyStretch keys, ReadOnlySpan<char> text)
    {
        // The first that is not before the text, and the first behind it that begins otherwise.
        var (from, high) = (keys.From, keys.To);
        while (from < high)
        {
            var middle = (from + high) / 2;
            if (sorted[middle].AsSpan(keys.Begun).SequenceCompareTo(text) < 0)
                from = middle + 1;
            else
                high = middle;
        }
        var (to, end) = (from, keys.To);
        while (to < end)
        {
            var middle = (to + end) / 2;
            if (sorted[middle].AsSpan(keys.Begun).StartsWith(text))
                to = middle + 1;
            else
                end = middle;
        }
        return from < to ? new(from, to, keys.Begun + text.Length) : default;
    }

    /// <summary>For each of some marks the positions of the tags whose texts hold it: one to four words and numbers that follow each
    /// other.</summary>
    public Dictionary<string, List<int>> Marked(IEnumerable<string> marks)
    {
        var found = new Dictionary<string, List<int>>(StringComparer.Ordinal);
        foreach (var mark in marks)
            found.TryAdd(mark, []);
        var lookup = found.GetAlternateLookup<ReadOnlySpan<char>>();
        Span<char> room = stackalloc char[256];
        for (var i = 0; i < Tags.Length; i++)
            foreach (var face in Tokens)
                for (var from = 0; from < face[i].Length; from++)
                {
                    var key = new KeyWriter(room);
                    for (var to = from; to < face[i].Length && to < from + LongestMark; to++)
                    {
                        key.Say(face[i][to]);
                        if (lookup.TryGetValue(key.Key, out var list) && (list.Count == 0 || list[^1] != i))
                            list.Add(i);
                    }
                }
        return found;
    }

    /// <summary>True when a tag's texts hold a mark.</summary>
    public bool Holds(int position, string mark) => Where(position, mark, (_, _, _) => { });

    /// <summary>Tells where in a tag's texts a mark stands: face, first token and how many.</summary>
    public bool Where(int position, string mark, Action<int, int, int> at)
    {
        var any = false;
        Span<char> room = stackalloc char[256];
        for (var face = 0; face < Tokens.Length; face++)
        {
            var tokens = Tokens[face][position];
            for (var from = 0; from < tokens.Length; from++)
            {
                var key = new KeyWriter(room);
                for (var to = from; to < tokens.Length && to < from + LongestMark; to++)
                {
                    key.Say(tokens[to]);
                    if (!key.Key.SequenceEqual(mark))
                        continue;
                    at(face, from, to - from + 1);
                    any = true;
                }
            }
        }
        return any;
    }

    private IEnumerable<int> Chain(TagFace face, int head)
    {
        for (var at = head; at >= 0; at = _next[(int)face][at])
            yield return at;
    }
}
