namespace Fralto.Runtime;

/// <summary>A list that is never changed: the next one shares with it every page in which nothing has.</summary>
/// <typeparam name="T">What it holds.</typeparam>
public sealed class PagedArray<T>
{
    // Pages are small, so that changes scattered over a large plant copy little of it; so are books of pages, so that nothing large is
    // allocated again and again.
    private const int PageBits = 2;
    private const int PageSize = 1 << PageBits;
    private const int BookBits = PageBits + 4;
    private const int BookSize = 1 << (BookBits - PageBits);

    private readonly T[][][] _books;

    public PagedArray()
        : this([], 0) { }

    private PagedArray(T[][][] books, int length) => (_books, Length) = (books, length);

    /// <summary>How many it holds.</summary>
    public int Length { get; }

    public T this[int index] => PageOf(index)[index & (PageSize - 1)];

    /// <summary>The next one, made anew, of so many.</summary>
    public PagedArray<T> Anew(int length, Func<int, T> valueOf)
    {
        var books = new T[(length + (1 << BookBits) - 1) >> BookBits][][];
        for (var book = 0; book < books.Length; book++)
        {
            var first = book << BookBits;
            var pages = books[book] = new T[Math.Min(BookSize, (length - first + PageSize - 1) >> PageBits)][];
            for (var page = 0; page < pages.Length; page++)
            {
                var at = first + (page << PageBits);
                var its = pages[page] = new T[Math.Min(PageSize, length - at)];
                for (var i = 0; i < its.Length; i++)
                    its[i] = valueOf(at + i);
            }
        }
        return new(books, length);
    }

    /// <summary>The next one, in which some are others.</summary>
    public PagedArray<T> With(IReadOnlyList<int> changed, Func<int, T> valueOf)
    {
        if (changed.Count == 0)
            return this;
        var books = (T[][][])_books.Clone();
        for (var i = 0; i < changed.Count; i++)
        {
            var index = changed[i];
            var (book, page) = (index >> BookBits, (index >> PageBits) & (BookSize - 1));
            if (ReferenceEquals(books[book], _books[book]))
                books[book] = (T[][])_books[book].Clone();
            if (ReferenceEquals(books[book][page], _books[book][page]))
                books[book][page] = (T[])_books[book][page].Clone();
            books[book][page][index & (PageSize - 1)] = valueOf(index);
        }
        return new(books, Length);
    }

    /// <summary>True when what stands at an index is the same as in an earlier one; quick where nothing near it has changed
    /// either.</summary>
    public bool IsAs(PagedArray<T> earlier, int index)
    {
        if (Length != earlier.Length)
            return false;
        var (now, before) = (PageOf(index), earlier.PageOf(index));
        return ReferenceEquals(now, before)
            || EqualityComparer<T>.Default.Equals(now[index & (PageSize - 1)], before[index & (PageSize - 1)]);
    }

    private T[] PageOf(int index) => _books[index >> BookBits][(index >> PageBits) & (BookSize - 1)];
}
