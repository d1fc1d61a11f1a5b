using System.Globalization;

namespace Fralto.Web.Api;

/// <summary>One page of a list of the interface.</summary>
/// <param name="Items">The items, in the list's order.</param>
/// <param name="Next">Ask again with this as cursor for the page after; null when there is none.</param>
internal sealed record ListPage<T>(IReadOnlyList<T> Items, string? Next);

/// <summary>Cuts lists into pages. A cursor names the last item of the page before, so that a list that grows meanwhile is neither doubled
/// nor torn.</summary>
internal static class ListPage
{
    /// <summary>Items of a page when nobody says how many.</summary>
    public const int DefaultLimit = 1000;

    /// <summary>The most items of a page.</summary>
    public const int MostItems = 10_000;

    /// <summary>A page of a list.</summary>
    /// <param name="all">The whole list in its order.</param>
    /// <param name="keyOf">What tells an item from all others, without blanks.</param>
    /// <param name="limit">How many; null for the default.</param>
    /// <param name="cursor">What the page before said; null for the first page.</param>
    /// <param name="project">Makes what is answered of an item; called for the items of this page alone.</param>
    public static IResult Of<TSource, T>(
        IReadOnlyList<TSource> all,
        Func<TSource, string> keyOf,
        int? limit,
        string? cursor,
        Func<TSource, T> project
    )
    {
        if (Problem(limit) is { } wrong)
            return wrong;
        var begin = 0;
        if (!string.IsNullOrEmpty(cursor))
        {
            // The cursor says where its item stood, and it mostly still does.
            var (place, key) =
                cursor.Split('~') is [var at, var its] && int.TryParse(at, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
                    ? (number, its)
                    : (-1, "");
            if (place < 0)
                return Results.Problem(
                    $"'{cursor}' is no cursor; give the member next of the page before, as it is.",
                    statusCode: StatusCodes.Status400BadRequest
                );
            if (place >= all.Count || keyOf(all[place]) != key)
            {
                place = 0;
                while (place < all.Count && keyOf(all[place]) != key)
                    place++;
                if (place == all.Count)
                    return Results.Problem(
                        "The item the cursor names is no longer in the list; begin anew without a cursor.",
                        statusCode: StatusCodes.Status410Gone
                    );
            }
            begin = place + 1;
        }
        var items = new T[Math.Min(limit ?? DefaultLimit, all.Count - begin)];
        for (var i = 0; i < items.Length; i++)
            items[i] = project(all[begin + i]);
        var last = begin + items.Length - 1;
        return Results.Ok(
            new ListPage<T>(items, last + 1 < all.Count ? string.Create(CultureInfo.InvariantCulture, $"{last}~{keyOf(all[last])}") : null)
        );
    }

    /// <summary>A page of what is kept by number, the newest first; the cursor is a number.</summary>
    /// <param name="limit">How many; null for the default.</param>
    /// <param name="cursor">What the page before said; null for the first page.</param>
    /// <param name="read">Reads so many with a lower number.</param>
    /// <param name="project">Makes what is answered of an item.</param>
    public static IResult ByNumber<TSource, T>(
        int? limit,
        string? cursor,
        Func<int, long, IReadOnlyList<(long Id, TSource It)>> read,
        Func<TSource, T> project
    )
    {
        if (Problem(limit) is { } wrong)
            return wrong;
        var before = long.MaxValue;
        if (
            !string.IsNullOrEmpty(cursor) && !long.TryParse(cursor, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out before)
        )
            return Results.Problem(
                $"'{cursor}' is no cursor; give the member next of the page before, as it is.",
                statusCode: StatusCodes.Status400BadRequest
            );
        var found = read((limit ?? DefaultLimit) + 1, before);
        var page = found.Take(limit ?? DefaultLimit).ToArray();
        return Results.Ok(
            new ListPage<T>(
                [.. page.Select(i => project(i.It))],
                found.Count > page.Length ? page[^1].Id.ToString(CultureInfo.InvariantCulture) : null
            )
        );
    }

    /// <summary>What is wrong with a limit; null when nothing is.</summary>
    public static IResult? Problem(int? limit) =>
        limit is < 1 or > MostItems
            ? Results.Problem($"A page has 1 to {MostItems} items, not {limit}.", statusCode: StatusCodes.Status400BadRequest)
            : null;
}
