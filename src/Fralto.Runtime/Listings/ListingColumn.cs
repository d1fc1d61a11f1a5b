namespace Fralto.Runtime.Listings;

/// <summary>One column of a listing.</summary>
/// <param name="Key">Names it in addresses.</param>
/// <param name="Title">Its heading.</param>
/// <param name="Text">What stands in it: what is shown, searched, copied and given out.</param>
public record ListingColumn<TRow>(string Key, string Title, Func<TRow, string> Text)
{
    /// <summary>Sorts by a number in place of the text; what is none comes last.</summary>
    public Func<TRow, double>? Number { get; init; }

    /// <summary>True where few values come again and again: rows can be chosen by one of them.</summary>
    public bool IsFacet { get; init; }

    /// <summary>True where typed words are looked for.</summary>
    public bool IsSearched { get; init; } = true;

    /// <summary>True for a column that is shown only when somebody asks for it.</summary>
    public bool IsAside { get; init; }

    /// <summary>True where the text moves while the rows stay: its order cannot be kept.</summary>
    public bool IsLive { get; init; }

    /// <summary>True for a column that cannot be sorted by: it holds what can be done.</summary>
    public bool IsUnsorted { get; init; }
}
