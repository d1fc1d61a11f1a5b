using Fralto.Core.Basics;

namespace Fralto.Runtime.Listings;

/// <summary>The rows of a listing that match, in order.</summary>
/// <param name="Rows">Their indices, the first to be shown first.</param>
/// <param name="Facets">What they can be chosen by.</param>
public sealed record ListingOrder(int[] Rows, IReadOnlyList<ListingFacet> Facets)
{
    /// <summary>The most values a facet offers; the rarer ones are left out.</summary>
    public const int MostValues = 60;

    private const int Any = -2;

    /// <summary>Filters and sorts.</summary>
    /// <param name="rows">All rows.</param>
    /// <param name="columns">The columns.</param>
    /// <param name="query">Which, and in which order. A column that is none is passed over.</param>
    /// <param name="cache">Keeps what is the same for as long as the rows are.</param>
    public static ListingOrder Of<TRow>(
        IReadOnlyList<TRow> rows,
        IReadOnlyList<ListingColumn<TRow>> columns,
        ListingQuery query,
        ListingCache? cache = null
    )
    {
        var (matching, facets) = Matching(rows, columns, query, cache ?? new());
        var by = columns.FirstOrDefault(c => c.Key == query.Sort && !c.IsUnsorted);
        if (by is null)
            return new(matching, facets);
        var sorted =
            by.Number is { } number ? ByNumber(rows, matching, number, query.IsDescending)
            : by.IsLive || cache is null ? ByText(rows, matching, by.Text)
            : ByRank(matching, cache.Ranks.GetOrAdd(by.Key, _ => RanksOf(ByText(rows, [.. Enumerable.Range(0, rows.Count)], by.Text))));
        if (query.IsDescending && by.Number is null)
            Array.Reverse(sorted);
        return new(sorted, facets);
    }

    private static (int[] Rows, IReadOnlyList<ListingFacet> Facets) Matching<TRow>(
        IReadOnlyList<TRow> rows,
        IReadOnlyList<ListingColumn<TRow>> columns,
        ListingQuery query,
        ListingCache cache
    )
    {
        var words = query.Words;
        // Without a word nothing is searched, and no text is made for it.
        var (marks, all) = words.Count == 0 ? ([], 0) : (Marked(rows, columns, words, cache), (1 << words.Count) - 1);
        var facets = columns.Where(c => c.IsFacet).ToArray();
        var values = facets.Select(f => cache.ValuesOf(rows, f)).ToArray();
        var chosen = facets
            .Select((f, at) => query.Facets.TryGetValue(f.Key, out var wanted) ? Array.IndexOf(values[at].Values, wanted) : Any)
            .ToArray();
        var counts = values.Select(v => new int[v.Values.Length]).ToArray();
        var found = new List<int>(words.Count == 0 && query.Facets.IsEmpty ? rows.Count : 16);
        for (var i = 0; i < rows.Count; i++)
        {
            if (all != 0 && marks[i] != all)
                continue;
            // A row counts for the values of a facet when every other facet lets it through.
            var (misses, missed) = (0, -1);
            for (var f = 0; f < facets.Length; f++)
                if (chosen[f] != Any && values[f].Of[i] != chosen[f])
                    (misses, missed) = (misses + 1, f);
            for (var f = 0; f < facets.Length; f++)
                if (misses == 0 || (misses == 1 && missed == f))
                    counts[f][values[f].Of[i]]++;
            if (misses == 0)
                found.Add(i);
        }
        return (
            [.. found],
            [
                .. facets.Select(
                    (f, at) =>
                        new ListingFacet(
                            f.Key,
                            f.Title,
                            query.Facets.GetValueOrDefault(f.Key),
                            [
                                .. counts[at]
                                    .Select((count, v) => (Value: values[at].Values[v], Count: count))
                                    .Where(c => c.Count > 0)
                                    .OrderByDescending(c => c.Count)
                                    .Take(MostValues)
                                    .OrderBy(c => c.Value, Comparer<string>.Create(NaturalOrder.Compare)),
                            ]
                        )
                ),
            ]
        );
    }

    /// <summary>Which of the words each row has: a bit for each.</summary>
    private static int[] Marked<TRow>(
        IReadOnlyList<TRow> rows,
        IReadOnlyList<ListingColumn<TRow>> columns,
        IReadOnlyList<string> words,
        ListingCache cache
    )
    {
        var marks = new int[rows.Count];
        var searched = cache.SearchedOf(rows, columns);
        var moving = columns.Where(c => c.IsSearched && c.IsLive).ToArray();
        for (var w = 0; w < words.Count; w++)
        {
            searched.Mark(words[w].ToUpperInvariant(), marks, 1 << w);
            foreach (var column in moving)
                for (var i = 0; i < marks.Length; i++)
                    if (column.Text(rows[i]).Contains(words[w], StringComparison.OrdinalIgnoreCase))
                        marks[i] |= 1 << w;
        }
        return marks;
    }

    private static int[] ByText<TRow>(IReadOnlyList<TRow> rows, int[] matching, Func<TRow, string> text)
    {
        var texts = new string[rows.Count];
        foreach (var i in matching)
            texts[i] = text(rows[i]);
        return NaturalOrder.Sort(texts, matching);
    }

    private static int[] RanksOf(int[] order)
    {
        var ranks = new int[order.Length];
        for (var i = 0; i < order.Length; i++)
            ranks[order[i]] = i;
        return ranks;
    }

    private static int[] ByRank(int[] matching, int[] ranks)
    {
        var places = Array.ConvertAll(matching, i => ranks[i]);
        Array.Sort(places, matching);
        return matching;
    }

    private static int[] ByNumber<TRow>(IReadOnlyList<TRow> rows, int[] matching, Func<TRow, double> number, bool isDescending)
    {
        // Places make the order stable: equal keys stay as they come.
        var keys = new double[matching.Length];
        var places = new int[matching.Length];
        for (var i = 0; i < keys.Length; i++)
        {
            var value = number(rows[matching[i]]);
            keys[i] =
                double.IsNaN(value) ? double.PositiveInfinity
                : isDescending ? -value
                : value;
            places[i] = i;
        }
        Array.Sort(keys, places);
        for (int begin = 0, end; begin < keys.Length; begin = end)
        {
            end = begin + 1;
            while (end < keys.Length && keys[end] == keys[begin])
                end++;
            if (end - begin > 1)
                Array.Sort(places, begin, end - begin);
        }
        return Array.ConvertAll(places, p => matching[p]);
    }
}
