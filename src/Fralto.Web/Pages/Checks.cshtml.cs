using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Proposals;
using Fralto.Core.Templates;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The bindings a commissioning team has to look at: those that look wrong first, then what nobody has checked since it was
/// bound.</summary>
public sealed class ChecksModel(DoubtWatch watch, TimeProvider clock) : FraltoPage
{
    /// <summary>Most bindings one page shows.</summary>
    public const int PageSize = 100;

    /// <summary>Only bindings of this template and of what inherits from it.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Template { get; set; }

    /// <summary>Only bindings below this place.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Place { get; set; }

    /// <summary>"wrong" for what looks wrong, "all" with what is checked; otherwise what is left to check.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Show { get; set; }

    /// <summary>Page, from 1.</summary>
    [BindProperty(SupportsGet = true)]
    public int ListPage { get; set; } = 1;

    /// <summary>The page of the list that is shown.</summary>
    public CheckPage Listed { get; private set; } = new([], 1, 0, 0, 0, 0);

    /// <summary>What looks wrong, as far as it is known.</summary>
    public DoubtState Known { get; private set; } = DoubtState.None;

    public IReadOnlyList<Template> Templates { get; private set; } = [];

    public int ListPages => Math.Max(1, (Listed.Shown + PageSize - 1) / PageSize);

    /// <summary>What looks wrong about a line.</summary>
    public IReadOnlyList<BindingDoubt> DoubtsOf(CheckLine line) => Known.Doubts.GetValueOrDefault((line.Instance.Id, line.Property.Id), []);

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

    public Task OnGetAsync() => ListAsync();

    /// <summary>True when a look that was waited for has ended: the page may come again.</summary>
    public bool IsFound { get; private set; }

    /// <summary>How far the look has come, asked for while it goes on.</summary>
    public async Task<IActionResult> OnGetLookedAsync(bool was)
    {
        Known = await watch.LookAsync(Model);
        IsFound = was && !Known.IsLooking;
        return Partial("_ChecksLooked", this);
    }

    /// <summary>Marks the ticked bindings as checked, or asks for another check.</summary>
    public async Task<IActionResult> OnPostAsync(string?[]? cells, bool again)
    {
        var chosen = (cells ?? [])
            .OfType<string>()
            .Select(c => c.Split('.'))
            .Where(c => c.Length == 2)
            .Select(c =>
                (
                    long.TryParse(c[0], NumberStyles.None, CultureInfo.InvariantCulture, out var e) ? e : 0,
                    long.TryParse(c[1], NumberStyles.None, CultureInfo.InvariantCulture, out var p) ? p : 0
                )
            )
            .ToImmutableArray();
        if (
            !chosen.IsEmpty
            && Do(
                new MarkChecked(chosen, again ? null : new(Actor.Name, clock.GetUtcNow())),
                new FormReader(Request.Form),
                _ => Redirect(AddressOf()),
                () => Page()
            )
                is RedirectResult done
        )
            return done;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Refusal ??= "Tick the bindings you have looked at.";
        await ListAsync();
        return Page();
    }

    /// <summary>Address of this list with a change.</summary>
    public string AddressOf(params (string Key, string? Value)[] other)
    {
        var route = new Dictionary<string, string?>
        {
            ["template"] = Template?.ToString(CultureInfo.InvariantCulture),
            ["place"] = Place?.ToString(CultureInfo.InvariantCulture),
            ["show"] = Show,
            ["listPage"] = ListPage > 1 ? ListPage.ToString(CultureInfo.InvariantCulture) : null,
        };
        foreach (var (key, value) in other)
            route[key] = value;
        var said = route.Where(r => !string.IsNullOrEmpty(r.Value)).Select(r => $"{r.Key}={Uri.EscapeDataString(r.Value!)}");
        return $"/checks?{string.Join('&', said)}";
    }

    private async Task ListAsync()
    {
        Known = await watch.LookAsync(Model);
        var list = watch.ListOf(Model);
        Templates = [.. list.Templates.OrderBy(t => t.Name, StringComparer.Ordinal)];
        Listed = list.Page(
            Template,
            Place,
            Show switch
            {
                "all" => CheckFilter.All,
                "wrong" => CheckFilter.Wrong,
                _ => CheckFilter.Left,
            },
            ListPage,
            PageSize
        );
        ListPage = Listed.Number;
    }
}
