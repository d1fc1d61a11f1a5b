using System.Collections.Concurrent;
using Fralto.Core.Basics;

namespace Fralto.Runtime.Listings;

/// <summary>What of a listing is the same for as long as its rows are: texts, orders and values to choose by, each made when it is first
/// asked for. Of columns that are live only the values to choose by are kept, for a second.</summary>
public sealed class ListingCache
{
    // Not a sign of any text: what is found is found in one column.
    private const char Between = '\u001f';

    // While somebody types, what moves need not be looked at anew with each key.
    private const long LiveForMs = 1000;

    private readonly ConcurrentDictionary<string, ((string[] Values, int[] Of) Values, long At)> _live = [];
    private SearchText? _searched;
    private readonly ConcurrentDictionary<string, (string[] Values, int[] Of)> _values = [];

    /// <summary>At which place each row stands in the order of a column, by its key.</summary>
    internal ConcurrentDictionary<string, int[]> Ranks { get; } = [];

    /// <summary>The texts of all columns that are searched and stay as they are, a text a row.</summary>
    internal SearchText SearchedOf<TRow>(IReadOnlyList<TRow> rows, IReadOnlyList<ListingColumn<TRow>> columns)
    {
        return LazyInitializer.EnsureInitialized(ref _searched, Make);

        SearchText Make()
        {
            var searched = columns.Where(c => c.IsSearched && !c.IsLive).ToArray();
            return SearchText.Of(rows.Count, i => string.Join(Between, searched.Select(c => c.Text(rows[i]))));
        }
    }

    // The values a column has, and which of them each row has.
    internal (string[] Values, int[] Of) ValuesOf<TRow>(IReadOnlyList<TRow> rows, ListingColumn<TRow> column)
    {
        if (!column.IsLive)
            return _values.GetOrAdd(column.Key, _ => Make());
        if (_live.TryGetValue(column.Key, out var kept) && Environment.TickCount64 - kept.At < LiveForMs)
            return kept.Values;
        var made = Make();
        _live[column.Key] = (made, Environment.TickCount64);
        return made;

        (string[], int[]) Make()
        {
            var known = new Dictionary<string, int>();
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
