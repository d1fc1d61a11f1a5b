using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Scaling;
using Fralto.Core.Units;
using Fralto.Web.Forms;
using Fralto.Web.Listings;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The catalogue of units: search, conversion, and units of the customer's own.</summary>
public sealed class UnitsModel : ListingPage
{
    /// <summary>Most units listed at once.</summary>
    private const int MostSuggested = 30;

    /// <summary>Code of the unit shown.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Unit { get; set; }

    /// <summary>A number to convert.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Number { get; set; }

    /// <summary>"new" to add a unit, "change" to change the one shown.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Open { get; set; }

    /// <summary>Units that a field offers.</summary>
    public IReadOnlyList<Unit> Found { get; private set; } = [];

    /// <inheritdoc/>
    protected override string ListingName => "units";

    /// <inheritdoc/>
    protected override IListing? MakeListing() =>
        new Listing<Unit>(
            ListingName,
            "units",
            () => [.. Model.Units.All.OrderBy(u => !u.IsOwn)],
            Model.Units,
            u => u.Code,
            [
                new("symbol", "Symbol", u => u.Symbol)
                {
                    Class = "num",
                    Width = "narrow",
                    Cell = u => new(u.Symbol) { Href = $"/units?{Said}unit={Uri.EscapeDataString(u.Code)}" },
                },
                new("name", "Name", u => u.Name) { Width = "wide" },
                new("quantity", "Quantity", u => u.Quantity) { Class = "muted", IsFacet = true },
                new("code", "Code", u => u.Code) { Class = "num muted", Width = "narrow" },
                new("spellings", "Other spellings", u => string.Join(", ", u.Aliases)) { Class = "small muted", Width = "wide" },
                new("own", "Whose", u => u.IsOwn ? "your own" : "shipped")
                {
                    IsFacet = true,
                    IsAside = true,
                    IsSearched = false,
                },
            ]
        )
        {
            Page = "/units",
            ClassOf = u => u.Code == Unit ? "on" : "",
        };

    // What the list is filtered and sorted by stays when a unit is chosen.
    private string Said => ListingRequest.Read(Request.Query).Text() is { Length: > 0 } said ? $"{said}&" : "";

    public Unit? Selected => Model.Units.Find(Unit);

    /// <summary>The unit shown when it is the customer's own; null when it is a shipped one.</summary>
    public OwnUnit? Own => Model.OwnUnits.Values.FirstOrDefault(u => u.Code == Unit);

    /// <summary>The number to convert; 1 when none, or none that can be read, was typed.</summary>
    public double Amount => FieldText.Number(Number ?? "", out _) ?? 1;

    /// <summary>True when what was typed is no number.</summary>
    public bool IsNoNumber => !string.IsNullOrWhiteSpace(Number) && FieldText.Number(Number, out _) is null;

    public void OnGet() => Show();

    /// <summary>Units for a field: what is typed, or the ones used last.</summary>
    public IActionResult OnGetSuggest(string? q)
    {
        var last = Workspace.LastUnits.Select(Model.Units.Find).OfType<Unit>().ToArray();
        Found =
            string.IsNullOrWhiteSpace(q) || q.Length > 80
                ? [.. last.Concat(Model.Units.All).Distinct().Take(MostSuggested)]
                : [.. Model.Units.Search(q).Take(MostSuggested)];
        // Among those that match alike, what was used last comes first.
        if (!string.IsNullOrWhiteSpace(q))
            Found = [.. Found.OrderBy(u => UnitSpelling.Of(u.Symbol) != UnitSpelling.Of(q)).ThenBy(u => !last.Contains(u))];
        if (Found.Count == 0 && !string.IsNullOrWhiteSpace(q))
            Found = [.. Model.Units.Nearest(q)];
        return Partial("_UnitOptions", this);
    }

    public IActionResult OnPostSave()
    {
        var reader = new FormReader(Request.Form);
        var id = reader.Id("Id");
        var symbol = reader.Text("Symbol");
        var factor = reader.Number("Factor");
        if (factor is null && !reader.HasProblems)
            reader.Refuse("Factor", "Give the factor: how many of the other unit one is.");
        var edit = new SaveOwnUnit(
            id,
            reader.Text("Code"),
            symbol,
            reader.Text("Name") is { Length: > 0 } name ? name : symbol,
            factor ?? 1,
            UnitField.Read(reader, "BaseCode", Model) ?? ""
        );
        return Do(
            edit,
            reader,
            outcome => RedirectToPage(new { unit = ((OwnUnit)outcome.Changes[0].After!).Code }),
            () =>
            {
                Open = id is null ? "new" : "change";
                Unit = id is { } known ? Model.OwnUnits.GetValueOrDefault(known)?.Code : null;
                Show(keepForm: true);
                return Page();
            }
        );
    }

    public IActionResult OnPostRemove(long id) =>
        Do(
            new RemoveOwnUnit(id),
            new FormReader(Request.Form),
            _ => RedirectToPage(new { }),
            () =>
            {
                Unit = Model.OwnUnits.GetValueOrDefault(id)?.Code;
                Show();
                return Page();
            }
        );

    private void Show(bool keepForm = false)
    {
        if (keepForm)
            return;
        Form =
            Open == "change" && Own is { } own
                ? FormState.Of(
                    ("Id", own.Id),
                    ("Code", own.Code),
                    ("Symbol", own.Symbol),
                    ("Name", own.Name),
                    ("Factor", own.Factor.ToString("R", CultureInfo.InvariantCulture)),
                    ("BaseCode", UnitField.Text(own.BaseCode, Model))
                )
                : FormState.Empty;
    }
}
