using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Rules;
using Fralto.Web.Forms;
using Fralto.Web.Listings;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The catalogue of limits: every limit of the plant with what is missing in it, edited many at once.</summary>
public sealed class AlarmsLimitsModel : ListingPage
{
    private IReadOnlyList<CatalogueLimit>? _all;

    /// <summary>The fields that are set for many.</summary>
    public static IReadOnlyList<(string Field, string Words)> Fields { get; } =
    [
        (nameof(LimitPatch.Priority), "priority"),
        (nameof(LimitPatch.Class), "class"),
        (nameof(LimitPatch.DeadbandPercent), "deadband, % of range"),
        (nameof(LimitPatch.OnDelay), "on-delay, s"),
        (nameof(LimitPatch.OffDelay), "off-delay, s"),
        (nameof(LimitPatch.RespondSeconds), "time to respond, s"),
        (nameof(LimitPatch.Action), "operator action"),
        (nameof(LimitPatch.Consequence), "consequence"),
        (nameof(LimitPatch.Cause), "cause"),
        (nameof(LimitPatch.Message), "message"),
        (nameof(LimitPatch.CountsWhile), "counts while"),
        (nameof(LimitPatch.Shelving), "rule of shelving"),
        (nameof(LimitPatch.Responses), "responses"),
    ];

    /// <summary>All limits.</summary>
    public IReadOnlyList<CatalogueLimit> All => _all ??= LimitCatalogue.Of(Model);

    /// <summary>The spread of priorities in words, beside what the standard wants.</summary>
    public string Spread
    {
        get
        {
            var spread = LimitCatalogue.Spread(All);
            var total = Math.Max(1, spread.Sum());
            return string.Join(", ", Enumerable.Range(1, 4).Select(p => $"{p}: {ValueText.Plain(100.0 * spread[p - 1] / total, 0)} %"));
        }
    }

    /// <summary>Limits with something missing.</summary>
    public int Unfinished => All.Count(l => !l.Missing.IsEmpty);

    /// <inheritdoc/>
    protected override string ListingName => "limits";

    public void OnGet()
    {
        // The list reads itself.
    }

    /// <summary>Sets a field of all that are selected.</summary>
    public IActionResult OnPost(string? picked, string? list, string? field, string? value, string? back)
    {
        var reader = new FormReader(Request.Form);
        var chosen = ListingPick.Read(picked) is { } pick ? Orders.Picked<CatalogueLimit>(list, pick) : [];
        Edit? edit =
            chosen is not { Count: > 0 } || Fields.All(f => f.Field != field)
                ? null
                : new Several(
                    [
                        .. chosen.Select(l =>
                            (Edit)new SaveLimit(l.Layer, l.PropertyId, l.Code, LimitFields.With(l.Own, field!, reader, "value"))
                        ),
                    ],
                    $"Set {Fields.First(f => f.Field == field).Words} of {(chosen.Count == 1 ? "1 limit" : $"{chosen.Count} limits")}"
                );
        if (
            edit is not null
            && Do(edit, reader, _ => Redirect(Url.IsLocalUrl(back) ? back : "/alarms/limits"), Page) is RedirectResult done
        )
            return done;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Refusal =
            edit is not null ? string.Join(" ", Form.Problems.Select(p => p.Message).Distinct().Take(3))
            : chosen is null ? "The list is no longer kept as it was shown; select the limits again."
            : "Select the limits, then choose what is set.";
        return Page();
    }

    /// <inheritdoc/>
    protected override IListing? MakeListing() =>
        new Listing<CatalogueLimit>(
            ListingName,
            "limits",
            () => All,
            Model,
            l => l.Key,
            [
                new("where", "Where", l => l.Where) { IsFacet = true, Width = "wide" },
                new("property", "Property", l => l.Property) { IsFacet = true },
                new("limit", "Limit", l => l.Code)
                {
                    Width = "narrow",
                    IsFacet = true,
                    Cell = l => new(l.Code) { Href = $"/limit?at={l.Layer}&property={l.PropertyId}&limit={Uri.EscapeDataString(l.Code)}" },
                },
                new("condition", "Condition", l => l.Condition) { Width = "wide" },
                new("priority", "Priority", l => ValueText.Plain(l.Priority))
                {
                    IsFacet = true,
                    Width = "narrow",
                    Cell = l => new("") { Content = new HtmlString(PriorityTagHelper.Mark(l.Priority)) },
                },
                new("reach", "Instances", l => ValueText.Plain(l.Reach))
                {
                    Number = l => l.Reach,
                    IsRight = true,
                    Class = "num",
                    Width = "narrow",
                },
                new("missing", "Missing or odd", l => string.Join(", ", l.Missing)) { Width = "wide" },
                new("one", "What", l => l.Missing.Length == 0 ? "nothing missing" : l.Missing[0]) { IsFacet = true, IsAside = true },
                new("class", "Class", l => l.Says.Class ?? "") { IsFacet = true },
                new("message", "Message", l => l.Says.Message ?? "") { Width = "wide" },
                new("action", "Operator action", l => l.Says.Action ?? "") { Width = "wide" },
                new("consequence", "Consequence", l => l.Says.Consequence ?? "") { IsAside = true },
                new("respond", "To respond, s", l => ValueText.Plain(l.Says.RespondSeconds)) { IsAside = true, IsRight = true },
                new("deadband", "Deadband", l => ValueText.Plain(l.Says.Deadband)) { IsAside = true, IsRight = true },
                new("on", "On-delay, s", l => ValueText.Plain(l.Says.OnDelay)) { IsAside = true, IsRight = true },
                new("off", "Off-delay, s", l => ValueText.Plain(l.Says.OffDelay)) { IsAside = true, IsRight = true },
                new("while", "Counts while", l => l.Says.CountsWhile ?? "") { IsAside = true },
                new("rule", "Shelved by", l => Model.ShelvingRuleOf(l.Says).Name) { IsAside = true, IsFacet = true },
            ]
        )
        {
            Page = "/alarms/limits",
            Empty = "No limit has been set in this plant yet.",
            IsSelectable = true,
        };
}
