using Fralto.Runtime.Recording;
using Fralto.Runtime.Views;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>A place at a glance, as part of the page of the plant.</summary>
public sealed class PlaceModel(DoubtWatch watch, Trends trends, SavedTrends saved) : FraltoPage
{
    /// <summary>What is shown.</summary>
    public PlaceView View { get; private set; } = null!;

    /// <summary>Trends that are kept with the place.</summary>
    public IEnumerable<SavedTrend> Saved => saved.All.Where(t => t.PlaceId == View.Place.Id);

    public IActionResult OnGet(long at)
    {
        if (!Model.Equipment.TryGetValue(at, out var place))
            return NotFound();
        // Whether it is well is asked of what runs, not of what is being edited.
        View = PlaceView.Of(Model, Runtime.Snapshot, id => Runtime.Links.StatusOf(id)?.State, watch.Known(Model), trends, place);
        return Page();
    }
}
