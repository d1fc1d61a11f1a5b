using System.Globalization;
using Fralto.Core.Alarms;
using Fralto.Core.Limits;
using Fralto.Runtime.Views;
using Fralto.Store;
using Fralto.Web.Forms;
using Fralto.Web.Listings;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>Every step of every alarm: as many as fit into a list, by time, place, priority and who.</summary>
public sealed class AlarmsLogModel(RunStore store) : ListingPage
{
    /// <inheritdoc/>
    protected override bool ShowsReleased => true;

    /// <summary>Steps that are listed at once.</summary>
    private const int MostListed = 5_000;

    private IReadOnlyList<(long Id, AlarmEvent Event)>? _found;

    /// <summary>Places, labels and priorities.</summary>
    [BindProperty(SupportsGet = true, Name = "")]
    public AlarmQuery Query { get; set; } = new();

    /// <summary>Not before this, as it was typed.</summary>
    [BindProperty(SupportsGet = true)]
    public string? From { get; set; }

    /// <summary>Before this, as it was typed.</summary>
    [BindProperty(SupportsGet = true)]
    public string? To { get; set; }

    /// <summary>Done by this one.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Who { get; set; }

    /// <summary>Only steps with a lower number: the page after.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Before { get; set; }

    public override LiveScope Scope => new(LiveScopeKind.Place);

    /// <summary>True while the newest step is among those that are listed.</summary>
    public bool IsNewest => Before is null && string.IsNullOrWhiteSpace(To);

    /// <summary>What cannot be read of the times; null when all can.</summary>
    public string? Wrong =>
        TimeOf(From, out var from) && TimeOf(To, out var to)
            ? from is { } begin && to is { } end && begin >= end
                ? "From lies before to."
                : null
            : "A time is written as 2026-06-01 08:00.";

    /// <summary>The address of what is older than what is listed; null when this is all.</summary>
    public string? Older =>
        Found.Count < MostListed
            ? null
            : $"{Query.AddressOf("/alarms/log")}{(Query.Text.Length > 0 ? "&" : "?")}from={Escaped(From)}&to={Escaped(To)}"
                + $"&who={Escaped(Who)}"
                + string.Create(CultureInfo.InvariantCulture, $"&before={Found[^1].Id}");

    /// <inheritdoc/>
    protected override string ListingName => "alarm-events";

    private IReadOnlyList<(long Id, AlarmEvent Event)> Found =>
        _found ??= Wrong is null ? store.AlarmEvents(Filter, MostListed, Before ?? long.MaxValue) : [];

    private AlarmLogFilter Filter =>
        new()
        {
            From = TimeOf(From, out var from) ? from : null,
            To = TimeOf(To, out var to) ? to : null,
            Who = string.IsNullOrWhiteSpace(Who) ? null : Who.Trim(),
            Priorities = Query.Priority,
            Equipment = Query.Filter.InstancesOf(Model),
        };

    public void OnGet()
    {
        // The list reads itself.
    }

    /// <inheritdoc/>
    protected override IListing? MakeListing() =>
        new Listing<AlarmEvent>(
            ListingName,
            "events",
            () => [.. Found.Select(e => e.Event)],
            (Snapshot.AlarmVersion, Model, From, To, Who, Before, Query.Text),
            e => $"{e.Key.EquipmentId}.{e.Key.PropertyId}.{e.Key.Condition}.{e.Time.Ticks}.{e.Cause}",
            [
                new("when", "When", e => ValueText.Utc(e.Time))
                {
                    Number = e => e.Time.Ticks,
                    Class = "num",
                    Cell = e => new(ValueText.Time(e.Time)) { Title = ValueText.Utc(e.Time) },
                },
                new("priority", "Priority", e => $"{e.Priority}")
                {
                    IsFacet = true,
                    Width = "narrow",
                    Cell = e => new("") { Content = new HtmlString(PriorityTagHelper.Mark(e.Priority)) },
                },
                new("place", "Place", e => PlaceOf(e)) { Width = "wide", IsFacet = true },
                new("property", "Property", e => PropertyOf(e)) { IsFacet = true },
                new("limit", "Limit", e => e.Limit)
                {
                    Class = "num",
                    IsFacet = true,
                    Width = "narrow",
                },
                new("value", "Value", e => ValueOf(e))
                {
                    Class = "num",
                    IsRight = true,
                    Number = e => e.Value,
                    Width = "narrow",
                },
                new("what", "What", e => AlarmWords.Of(e)) { IsFacet = true, Width = "wide" },
                new("message", "Message", e => MessageText.In(e.Message, e.Translations, MessageLanguage.Of(Request, Model)))
                {
                    Width = "wide",
                },
                new("comment", "Comment", e => e.Comment),
                new("source", "By its source", e => e.SourceTime is { } time ? ValueText.Utc(time) : "") { Class = "num", IsAside = true },
            ]
        )
        {
            Page = AddressOf(),
            Empty = "No alarm has been logged in this plant yet.",
        };

    private string AddressOf()
    {
        var text = string.Join(
            '&',
            new[]
            {
                Query.Text,
                From is { Length: > 0 } ? $"from={Escaped(From)}" : "",
                To is { Length: > 0 } ? $"to={Escaped(To)}" : "",
                Who is { Length: > 0 } ? $"who={Escaped(Who)}" : "",
                Before is { } before ? string.Create(CultureInfo.InvariantCulture, $"before={before}") : "",
            }.Where(t => t.Length > 0)
        );
        return text.Length == 0 ? "/alarms/log" : $"/alarms/log?{text}";
    }

    private string ValueOf(AlarmEvent e) =>
        !double.IsFinite(e.Value) ? ""
        : Snapshot.Find(e.Key.EquipmentId, e.Key.PropertyId) is not { } found ? ValueText.Plain(e.Value, 3)
        : found.Point.Watch is { Subject: >= 0 and var subject } ? ValueText.Of(Snapshot.Plan.Points[subject], e.Value)
        : ValueText.Of(found.Point, e.Value);

    /// <summary>Names from the site down to the instance; the path when the instance has been taken out.</summary>
    private string PlaceOf(AlarmEvent e) =>
        Model.Equipment.TryGetValue(e.Key.EquipmentId, out var node) ? AlarmBoard.NameOf(Model, node) : e.Path;

    /// <summary>Name of the property; the last code of the path when it has been taken out.</summary>
    private string PropertyOf(AlarmEvent e)
    {
        var code = e.Path[(e.Path.LastIndexOf('/') + 1)..];
        return
            Model.Equipment.TryGetValue(e.Key.EquipmentId, out var instance)
            && Model
                .Index.PropertiesOf(instance)
                .FirstOrDefault(p => p.Id == e.Key.PropertyId || p.Code.Equals(code, StringComparison.OrdinalIgnoreCase))
                is { } property
            ? property.Name
            : code;
    }

    private static string Escaped(string? text) => Uri.EscapeDataString(text ?? "");

    /// <summary>Reads a time as people type it; an empty one is none.</summary>
    private static bool TimeOf(string? text, out DateTimeOffset? time)
    {
        time = null;
        if (string.IsNullOrWhiteSpace(text))
            return true;
        if (!DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeLocal, out var read))
            return false;
        time = read;
        return true;
    }
}
