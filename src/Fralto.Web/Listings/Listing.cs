using Fralto.Core.Exchange;
using Fralto.Runtime.Listings;

namespace Fralto.Web.Listings;

/// <summary>A list that can be sorted, filtered, chosen from, copied and given out, however long it is.</summary>
/// <param name="name">Names it, for what is kept of its columns.</param>
/// <param name="label">What its rows are, in the plural: tags.</param>
/// <param name="rows">Makes all rows, in the order they have by themselves.</param>
/// <param name="source">Changes when the rows do: a listing that was ordered before is ordered anew then.</param>
/// <param name="keyOf">What tells a row from all others.</param>
/// <param name="columns">Its columns, in their usual order.</param>
public sealed class Listing<TRow>(
    string name,
    string label,
    Func<IReadOnlyList<TRow>> rows,
    object source,
    Func<TRow, string> keyOf,
    IReadOnlyList<CellColumn<TRow>> columns
) : IListing
{
    /// <summary>Classes of a row; null for none.</summary>
    public Func<TRow, string>? ClassOf { get; init; }

    /// <summary>True where rows can be selected, to be acted on.</summary>
    public bool IsSelectable { get; init; }

    /// <summary>The address of the page it stands on, without what it says itself.</summary>
    public string Page { get; init; } = "";

    /// <summary>Said when there is no row at all.</summary>
    public string Empty { get; init; } = "";

    /// <inheritdoc/>
    public ListingShown Show(ListingRequest request, IReadOnlyList<string>? chosen, ListingMemory memory)
    {
        var (token, kept) = OrderedAs(request, memory);
        var shown = Chosen(chosen);
        var from = Math.Clamp(request.From, 0, Math.Max(0, kept.Order.Rows.Length - 1));
        var count = Math.Min(request.Count, kept.Order.Rows.Length - from);
        var window = new ListingRow[Math.Max(0, count)];
        for (var i = 0; i < window.Length; i++)
        {
            var row = kept.Rows[kept.Order.Rows[from + i]];
            window[i] = new(
                from + i,
                keyOf(row),
                ClassOf?.Invoke(row) ?? "",
                [.. shown.Select(c => c.Cell?.Invoke(row) ?? new ListingCell(c.Text(row)))]
            );
        }
        return new(
            name,
            label,
            [.. shown.Select(c => HeadingOf(c, request))],
            [.. columns.Except(shown).Select(c => HeadingOf(c, request))],
            window,
            request,
            from,
            kept.Order.Rows.Length,
            kept.Rows.Count,
            [.. kept.Order.Facets.Where(f => f.Values.Count > 1 || f.Chosen is not null)],
            token
        )
        {
            Page = Page,
            IsSelectable = IsSelectable,
            Empty = Empty,
        };
    }

    /// <inheritdoc/>
    public Table Give(ListingRequest request, IReadOnlyList<string>? chosen, ListingMemory memory, ListingPick? picked)
    {
        var (_, kept) = OrderedAs(request, memory);
        var shown = Chosen(chosen).Where(c => c.Title.Length > 0).ToArray();
        var places = picked?.Places(kept.Order.Rows.Length) ?? Enumerable.Range(0, kept.Order.Rows.Length);
        return new(
            [.. shown.Select(c => c.Title)],
            [.. places.Select(p => kept.Rows[kept.Order.Rows[p]]).Select(row => shown.Select(c => c.Text(row)).ToArray())]
        );
    }

    private (string Token, KeptListing<TRow> Kept) OrderedAs(ListingRequest request, ListingMemory memory)
    {
        bool IsSame(KeptListing<TRow> kept) => kept.Source.Equals(source) && kept.Name == name && kept.Page == Page;
        if (memory.Find<KeptListing<TRow>>(request.Token) is { } before && IsSame(before))
            return (request.Token!, before);
        // Rows that are still the same need not be made again to be ordered otherwise.
        var same = memory.Newest<KeptListing<TRow>>(IsSame);
        var (all, cache) = (same?.Rows ?? rows(), same?.Cache ?? new());
        var kept = new KeptListing<TRow>(name, Page, source, all, cache, ListingOrder.Of(all, columns, request.Query, cache));
        return (memory.Add(kept), kept);
    }

    private List<CellColumn<TRow>> Chosen(IReadOnlyList<string>? chosen)
    {
        if (chosen is null)
            return [.. columns.Where(c => !c.IsAside)];
        var known = chosen.Select(k => columns.FirstOrDefault(c => c.Key == k)).OfType<CellColumn<TRow>>().Distinct().ToList();
        // What can be done with a row is always there.
        known.AddRange(columns.Where(c => c.IsUnsorted && !known.Contains(c)));
        return known.All(c => c.IsUnsorted) ? [.. columns.Where(c => !c.IsAside)] : known;
    }

    private static ListingHeading HeadingOf(CellColumn<TRow> column, ListingRequest request)
    {
        var isBy = request.Query.Sort == column.Key;
        return new(
            column.Key,
            column.Title,
            $"{column.Width}{(column.IsRight ? " r" : "")}{(column.Class is null ? "" : $" {column.Class}")}",
            column.IsUnsorted ? null
                : !isBy ? "none"
                : request.Query.IsDescending ? "descending"
                : "ascending",
            isBy && !request.Query.IsDescending ? $"-{column.Key}" : column.Key
        );
    }
}
