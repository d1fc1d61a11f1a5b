using System.Globalization;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Links;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Html;

namespace Fralto.Web.Listings;

/// <summary>The values at and below a place.</summary>
internal static class LiveListing
{
    public const string Name = "values";

    private const double UsualStrip = 240;

    /// <summary>Lists the values.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="runtime">Tells which controllers are there.</param>
    /// <param name="look">The units this person looks at values in.</param>
    /// <param name="at">The place; null for the whole plant.</param>
    /// <param name="points">Makes the points at and below it, by index.</param>
    public static Listing<int> Of(
        PlantModel model,
        EngineSnapshot snapshot,
        PlantRuntime runtime,
        UnitLook look,
        long? at,
        Func<int[]> points
    )
    {
        var down = DownControllers(model, runtime);
        var page = at is { } place ? $"/live?at={place}" : "/live";
        var sign = page.Contains('?', StringComparison.Ordinal) ? '&' : '?';
        PlanPoint Point(int i) => snapshot.Plan.Points[i];
        string Key(int i) => $"{Point(i).EquipmentId}.{Point(i).PropertyId}";
        ShownUnit Shown(int i) => look.Of(Point(i), model.Units);
        string Quality(PointValue v) =>
            v.Status.IsBad ? "Bad"
            : v.Status.IsGood ? "Good"
            : "Uncertain";
        return new(
            Name,
            "values",
            () => [.. points().Where(i => model.Equipment.ContainsKey(Point(i).EquipmentId))],
            snapshot.Plan,
            Key,
            [
                new("place", "Equipment", i => PlaceOf(model, Point(i)))
                {
                    Width = "wide",
                    Cell = i =>
                        new(PlaceOf(model, Point(i)))
                        {
                            Href = $"/plant?at={Point(i).EquipmentId}",
                            Title = model.Index.PathOf(Point(i).EquipmentId),
                        },
                },
                new("property", "Property", i => NameOf(model, Point(i)))
                {
                    IsFacet = true,
                    Width = "wide",
                    Cell = i => new(NameOf(model, Point(i))) { Content = Property(model, Point(i), snapshot.ValueOf(i), page, sign) },
                },
                new("now", "Now", i => ValueText.Of(Point(i), snapshot.ValueOf(i), Shown(i)))
                {
                    IsRight = true,
                    IsSearched = false,
                    Number = i => snapshot.ValueOf(i).Value,
                    Cell = i =>
                        new(ValueText.Of(Point(i), snapshot.ValueOf(i), Shown(i)))
                        {
                            Value = Key(i),
                            ValueClass = ValueText.Quality(snapshot.ValueOf(i).Status),
                            Title = ValueText.Why(snapshot.ValueOf(i).Status, snapshot.ValueOf(i).Reason),
                        },
                },
                new("unit", "Unit", i => Point(i).Unit is null ? "" : Shown(i).Symbol)
                {
                    IsLive = true,
                    Class = "muted",
                    Width = "narrow",
                    IsFacet = true,
                    IsSearched = false,
                    Cell = i =>
                        Point(i).Unit is { } unit
                            ? new ListingCell(Shown(i).Symbol)
                            {
                                Href = $"{page}{sign}unit={Uri.EscapeDataString(unit.Code)}",
                                Title = Shown(i).Conversion.IsNone ? "look at it in another unit" : $"the model says {unit.Symbol}",
                            }
                            : "",
                },
                new("range", "On its range", i => ValueText.Fraction(Point(i), snapshot.ValueOf(i).Value) is { } f ? $"{f:0 %}" : "")
                {
                    Number = i => ValueText.Fraction(Point(i), snapshot.ValueOf(i).Value) ?? double.NaN,
                    IsSearched = false,
                    Class = "strip",
                    Cell = i => new("") { Content = Strip(Point(i), snapshot.ValueOf(i), Key(i), Shown(i)) },
                },
                new("limits", "Limits", i => Limits(Point(i), Shown(i))) { Class = "num small muted", IsSearched = false },
                new("source", "Source", i => SourceOf(Point(i).Source))
                {
                    IsFacet = true,
                    IsAside = true,
                    IsSearched = false,
                    Class = "small muted",
                },
                new("state", "Condition", i => StateOf(Point(i), snapshot.ValueOf(i)))
                {
                    IsLive = true,
                    IsFacet = true,
                    IsAside = true,
                    IsSearched = false,
                },
                new("quality", "Quality", i => Quality(snapshot.ValueOf(i)))
                {
                    IsLive = true,
                    IsFacet = true,
                    IsSearched = false,
                    Class = "small",
                    Cell = i => QualityCell(model, snapshot, i, Key(i), down),
                },
            ]
        )
        {
            Page = page,
        };
    }

    /// <summary>Controllers that are not there, with the reason: said once, and not with each of their values.</summary>
    /// <param name="model">The model.</param>
    /// <param name="runtime">Tells which controllers are there.</param>
    public static IReadOnlyDictionary<long, (string Name, string Reason)> DownControllers(PlantModel model, PlantRuntime runtime) =>
        model
            .Controllers.Values.Select(c => (c, Status: runtime.Links.StatusOf(c.Id)))
            .Where(c => c.Status?.State == LinkState.Down)
            .ToDictionary(c => c.c.Id, c => (c.c.Name, c.Status!.Reason ?? "down"));

    /// <summary>Name of a point's property; its path's last code when the model has just changed under the page.</summary>
    /// <param name="model">The model.</param>
    /// <param name="point">The point.</param>
    public static string NameOf(PlantModel model, PlanPoint point) =>
        Declared(model, point)?.Name ?? point.Path[(point.Path.LastIndexOf('/') + 1)..];

    private static ResolvedProperty? Declared(PlantModel model, PlanPoint point) =>
        model.Equipment.GetValueOrDefault(point.EquipmentId)?.TemplateId is { } template
            ? model.Index.PropertiesOf(template).FirstOrDefault(p => p.Id == point.PropertyId)
            : null;

    private static string PlaceOf(PlantModel model, PlanPoint point) =>
        model.Equipment.TryGetValue(point.EquipmentId, out var node)
            ? node.PartId is not null && node.ParentId is { } whole
                ? $"{model.Equipment[whole].Name} / {node.Name}"
                : node.Name
            : point.Path;

    private static string Limits(PlanPoint point, ShownUnit look) =>
        string.Join(
            "  ",
            point
                .Limits.Reverse()
                .Select(l => $"{l.Condition.Letters()} {ValueText.Plain(look.Conversion.Of(l.Setpoint), look.Decimals + 1)}")
        );

    private static string StateOf(PlanPoint point, PointValue value) =>
        value.IsAbnormalOf(point) ? "abnormal"
        : point.Limits.Length > 0 ? "within limits"
        : point.States is { } states && states.States.Any(s => s.IsAbnormal) ? "as it should be"
        : "nothing is said";

    /// <summary>What a command is given without anybody's doing, in words; empty for nothing.</summary>
    private static string ByItself(PropertyPatch facts) =>
        facts.Formula is not null ? "follows a formula"
        : facts.AtStart is { } start ? $"at a start: {start}"
        : "";

    private static string SourceOf(PointSource source) =>
        source switch
        {
            PointSource.Formula => "calculated",
            PointSource.Entered => "entered",
            PointSource.Fixed => "fixed",
            _ => "tag",
        };

    private static ListingCell QualityCell(
        PlantModel model,
        EngineSnapshot snapshot,
        int i,
        string key,
        IReadOnlyDictionary<long, (string Name, string Reason)> down
    )
    {
        var (point, value) = (snapshot.Plan.Points[i], snapshot.ValueOf(i));
        var why = ValueText.Why(value.Status, value.Reason);
        return
            value.Status.IsBad
            && model.Bindings.TryGetValue((point.EquipmentId, point.PropertyId), out var binding)
            && binding.Simulation is null
            && down.TryGetValue(model.Tags[binding.TagId].ControllerId, out var its)
            ? new($"{its.Name} is down") { Title = why }
            : new(why) { Value = key, Follows = "why" };
    }

    private static IHtmlContent Property(PlantModel model, PlanPoint point, PointValue value, string page, char sign)
    {
        var key = $"{point.EquipmentId}.{point.PropertyId}";
        var name = NameOf(model, point);
        var pieces = new List<IHtmlContent> { Html.Of($"{name} ") };
        if (Declared(model, point)?.Declaration.Kind == PropertyKind.Command)
            pieces.Add(Html.Act($"{page}{sign}command={key}", "command", $"Command {model.Equipment[point.EquipmentId].Name} {name}"));
        if (Declared(model, point) is { Declaration.Kind: PropertyKind.Command, Facts: var facts })
            pieces.Add(Html.Of($"<span class=\"small waits\">{ByItself(facts)}</span> "));
        if (point.Source == PointSource.Entered)
            pieces.Add(Html.Act($"{page}{sign}enter={key}", "enter", $"Enter {model.Equipment[point.EquipmentId].Name} {name}"));
        if (model.Bindings.TryGetValue((point.EquipmentId, point.PropertyId), out var its) && its.Simulation is not null)
            pieces.Add(Html.Of($"<span class=\"small simulated\">≈ simulated</span> "));
        var mark = ValueText.WorstExceeded(point, value) is { } limit ? Forms.PriorityTagHelper.Mark(limit.Priority) : "";
        pieces.Add(new HtmlString($"<span data-mark=\"{key}\">{mark}</span>"));
        return Html.Of(pieces);
    }

    /// <summary>A value as a dot on its range, with its limits.</summary>
    public static IHtmlContent Strip(PlanPoint point, PointValue value, string key, ShownUnit look, double width = UsualStrip)
    {
        if (point.Range is not { } range || point.States is not null)
            return HtmlString.Empty;
        var span = new Span(range.Minimum, range.Maximum);
        static string N(double x) => x.ToString("0.##", CultureInfo.InvariantCulture);
        double At(double v) => 8 + Math.Clamp(span.FractionOf(v), 0, 1) * (width - 16);
        var (low, high) = (ValueText.Plain(look.Conversion.Of(range.Minimum), 6), ValueText.Plain(look.Conversion.Of(range.Maximum), 6));
        var fraction = ValueText.Fraction(point, value.Value);
        var (end, at) = (N(width - 8), N(8 + (fraction ?? 0) * (width - 16)));
        var visibility = fraction is null ? "hidden" : "visible";
        return Html.Of([
            Html.Of(
                $"""
                <svg class="strip" width="{width}" height="16" viewBox="0 0 {width} 16" role="img" aria-label="range {low} to {high}">
                <rect class="scale" x="8" y="6" width="{N(width - 16)}" height="4" rx="2" />
                """
            ),
            .. point.Limits.Select(l =>
                Html.Of($"""<rect class="limit p{l.Priority}" x="{N(At(l.Setpoint) - 1)}" y="2" width="2" height="12" />""")
            ),
            Html.Of(
                $"""
                <circle class="dot {ValueText.Quality(value.Status)}" data-dot="{key}" data-from="8" data-to="{end}" cx="{at}" cy="8"
                r="4.5" visibility="{visibility}" /></svg>
                """
            ),
        ]);
    }
}
