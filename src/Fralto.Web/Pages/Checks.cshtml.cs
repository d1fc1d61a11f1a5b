using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Proposals;
using Fralto.Core.Templates;
using Fralto.Web.Forms;
using Fralto.Web.Listings;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Fralto.Web.Pages;

/// <summary>The bindings a commissioning team has to look at: those that look wrong first, then what nobody has checked since it was
/// bound.</summary>
public sealed class ChecksModel(DoubtWatch watch, TimeProvider clock) : ListingPage
{
    /// <summary>Only bindings of this template and of what inherits from it.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Template { get; set; }

    /// <summary>Only bindings below this place.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Place { get; set; }

    /// <summary>"wrong" for what looks wrong, "all" with what is checked; otherwise what is left to check.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Show { get; set; }

    /// <summary>How many there are of each kind, and those that are listed.</summary>
    public CheckPage Listed { get; private set; } = new([], 1, 0, 0, 0, 0);

    /// <summary>What looks wrong, as far as it is known.</summary>
    public DoubtState Known { get; private set; } = DoubtState.None;

    public IReadOnlyList<Template> Templates { get; private set; } = [];

    /// <inheritdoc/>
    protected override string ListingName => CheckListing.Name;

    /// <inheritdoc/>
    protected override IListing? MakeListing() =>
        CheckListing.Of(Model, Snapshot, Runtime, Look, watch.ListOf(Model), Known, AddressOf(), () => Lines);

    private IReadOnlyList<CheckLine> Lines => watch.ListOf(Model).Page(Template, Place, Filter, 1, int.MaxValue).Lines;

    private CheckFilter Filter =>
        Show switch
        {
            "all" => CheckFilter.All,
            "wrong" => CheckFilter.Wrong,
            _ => CheckFilter.Left,
        };

    /// <summary>The templates to choose from.</summary>
    public IHtmlContent TemplateChoice =>
        ChoiceHtml.Of("template", "Template", "all templates", Template, Templates.Select(t => (t.Id, t.Name)));

    /// <summary>The places to choose from.</summary>
    public IHtmlContent PlaceChoice => ChoiceHtml.Of("place", "Place", "everywhere", Place, AllPlaces.Select(p => (p.Id, PlaceName(p))));

    /// <summary>How far the look for what is wrong has come, in words.</summary>
    public string Looked =>
        Known.Model is null
            ? "looking for what is wrong …"
            : $"looked through at {ValueText.Time(Known.At)}{(Known.IsLooking ? ", looking again" : "")}";

    public override LiveScope Scope => new(LiveScopeKind.Check, Place ?? Template ?? 0);

    public void OnGet() => List();

    /// <summary>True when a look that was waited for has ended: the page may come again.</summary>
    public bool IsFound { get; private set; }

    /// <summary>How far the look has come, asked for while it goes on.</summary>
    public IActionResult OnGetLooked(bool was)
    {
        IsFound = was && !Known.IsLooking;
        return Partial("_ChecksLooked", this);
    }

    /// <summary>Marks the selected bindings as checked, or asks for another check.</summary>
    public IActionResult OnPost(string? picked, string? list, bool again, string? back)
    {
        var chosen = ListingPick.Read(picked) is { } pick ? Orders.Picked<CheckLine>(list, pick) : [];
        if (
            chosen is { Count: > 0 }
            && Do(
                new MarkChecked([.. chosen.Select(l => (l.Instance.Id, l.Property.Id))], again ? null : new(Actor.Name, clock.GetUtcNow())),
                new FormReader(Request.Form),
                _ => Redirect(Url.IsLocalUrl(back) ? back : AddressOf()),
                () => Page()
            )
                is RedirectResult done
        )
            return done;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Refusal ??= chosen is null
            ? "The list is no longer kept as it was shown; select the bindings again."
            : "Select the bindings you have looked at.";
        List();
        return Page();
    }

    /// <inheritdoc/>
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        Known = await watch.LookAsync(Model);
        await next();
    }

    /// <summary>Address of this list with a change.</summary>
    public string AddressOf(params (string Key, string? Value)[] other)
    {
        var route = new Dictionary<string, string?>
        {
            ["template"] = Template?.ToString(CultureInfo.InvariantCulture),
            ["place"] = Place?.ToString(CultureInfo.InvariantCulture),
            ["show"] = Show,
        };
        foreach (var (key, value) in other)
            route[key] = value;
        var said = route.Where(r => !string.IsNullOrEmpty(r.Value)).Select(r => $"{r.Key}={Uri.EscapeDataString(r.Value!)}");
        return $"/checks?{string.Join('&', said)}".TrimEnd('?');
    }

    private void List()
    {
        var list = watch.ListOf(Model);
        Templates = [.. list.Templates.OrderBy(t => t.Name, StringComparer.Ordinal)];
        Listed = list.Page(Template, Place, Filter, 1, 1);
    }
}
