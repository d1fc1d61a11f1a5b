using System.Text;
using Fralto.Web.Exchange;
using Fralto.Web.Listings;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>A page with a listing: shows a window of it, and hands out other windows and all of it as files.</summary>
public abstract class ListingPage : FraltoPage
{
    /// <summary>Cookies with the columns a person has chosen are named so, followed by the listing's name.</summary>
    public const string ColumnsCookie = "fralto-columns-";

    private ListingMemory? _memory;

    /// <summary>Where orders are kept.</summary>
    protected ListingMemory Orders => _memory ??= HttpContext.RequestServices.GetRequiredService<ListingMemory>();

    /// <summary>Name of the listing the page has.</summary>
    protected abstract string ListingName { get; }

    /// <summary>The listing as the page's address asks for it; null when what it lists is no longer there.</summary>
    protected abstract IListing? MakeListing();

    /// <summary>The window the address asks for.</summary>
    public ListingShown? Listing => _shown ??= MakeListing()?.Show(ListingRequest.Read(Request.Query), ChosenColumns, Orders);

    private ListingShown? _shown;

    /// <summary>Another window of the listing, or all rows that match as a file.</summary>
    /// <param name="format">csv, xlsx or text; else a window of rows.</param>
    /// <param name="picked">Only these rows, by their places.</param>
    public IActionResult OnGetRows(string? format, string? picked)
    {
        if (MakeListing() is not { } listing)
            return NotFound();
        var request = ListingRequest.Read(Request.Query);
        if (format is null)
            return Partial("_ListingRows", listing.Show(request, ChosenColumns, Orders));
        var table = listing.Give(request, ChosenColumns, Orders, ListingPick.Read(picked));
        return format switch
        {
            "csv" => File(TableFile.WriteCsv(table), TableFile.CsvType, $"{ListingName}.csv"),
            "xlsx" => File(TableFile.WriteXlsx(table), TableFile.XlsxType, $"{ListingName}.xlsx"),
            "text" => Content(TableFile.WriteTabbed(table), "text/plain", Encoding.UTF8),
            _ => BadRequest(),
        };
    }

    private IReadOnlyList<string>? ChosenColumns =>
        Request.Cookies[$"{ColumnsCookie}{ListingName}"] is { Length: > 0 and < 1000 } kept ? kept.Split('.') : null;
}
