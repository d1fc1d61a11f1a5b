using System.Collections.Concurrent;

namespace Fralto.Runtime.Listings;

/// <summary>What of a listing is the same for as long as its rows are: texts, orders and values to choose by, each made when it is first
/// asked for. Columns that are live are not kept.</summary>
public sealed class ListingCache
{
    private readonly ConcurrentDictionary<string, string[]> _texts = [];
    private readonly ConcurrentDictionary<string, (string[] Values, int[] Of)> _values = [];

    /// <summary>At which place each row stands in the order of a column, by its key.</summary>
    internal ConcurrentDictionary<string, int[]> Ranks { get; } = [];

    internal string[] TextsOf<TRow>(IReadOnlyList<TRow> rows, ListingColumn<TRow> column)
    {
        return column.IsLive ? Make() : _texts.GetOrAdd(column.Key, _ => Make());

        string[] Make()
        {
            var texts = new string[rows.Count];
            for (var i = 0; i < texts.Length; i++)
                texts[i] = column.Text(rows[i]);
            return texts;
        }
    }

    // The values a column has, and which of them each row has.
    internal (string[] Values, int[] Of) ValuesOf<TRow>(IReadOnlyList<TRow> rows, ListingColumn<TRow> column)
    {
        return column.IsLive ? Make() : _values.GetOrAdd(column.Key, _ => Make());

        (string[], int[]) Make()
        {
            var known = new Dictionary<string, int>(StringComparer.Ordinal);
            var of = new int[rows.Count];
            for (var i = 0; i < of.Length; i++)
            {
                var text = column.Text(rows[i]);
                if (!known.TryGetValue(text, out of[i]))
                    known[text] = of[i] = known.Count;
            }
            return ([.. known.Keys], of);
        }
    }
}
