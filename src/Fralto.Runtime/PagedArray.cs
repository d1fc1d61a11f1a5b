namespace Fralto.Runtime;

/// <summary>A list that is never changed: the next one shares with it every page in which nothing has.</summary>
/// <typeparam name="T">What it holds.</typeparam>
public sealed class PagedArray<T>
{
    // Small, so that changes scattered over a large plant copy little of it.
    private const int PageBits = 4;
    private const int PageSize = 1 << PageBits;

    private readonly T[][] _pages;

    private PagedArray(T[][] pages, int length) => (_pages, Length) = (pages, length);

    public PagedArray()
        : this([], 0)
    {
    }

    /// <summary>How many it holds.</summary>
    public int Length { get; }

    public T this[int index] => _pages[index >> PageBits][index & (PageSize - 1)];

    /// <summary>The next one, made anew, of so many.</summary>
    public PagedArray<T> Anew(int length, Func<int, T> valueOf)
    {
        var pages = new T[(length + PageSize - 1) >> PageBits][];
        for (var page = 0; page < pages.Length; page++)
        {
            var its = pages[page] = new T[Math.Min(PageSize, length - (page << PageBits))];
            for (var i = 0; i < its.Length; i++) its[i] = valueOf((page << PageBits) + i);
        }
        return new(pages, length);
    }

    /// <summary>The next one, in which some are others.</summary>
    public PagedArray<T> With(IReadOnlyList<int> changed, Func<int, T> valueOf)
    {
        if (changed.Count == 0) return this;
        var pages = (T[][])_pages.Clone();
        for (var i = 0; i < changed.Count; i++)
        {
            var page = changed[i] >> PageBits;
            if (ReferenceEquals(pages[page], _pages[page])) pages[page] = (T[])_pages[page].Clone();
            pages[page][changed[i] & (PageSize - 1)] = valueOf(changed[i]);
        }
        return new(pages, Length);
    }

    /// <summary>True when nothing near an index is another than in an earlier one: what stands there is the same for certain.</summary>
    public bool IsAs(PagedArray<T> earlier, int index) =>
        Length == earlier.Length && ReferenceEquals(_pages[index >> PageBits], earlier._pages[index >> PageBits]);
}
