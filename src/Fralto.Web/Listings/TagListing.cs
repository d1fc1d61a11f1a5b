using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Html;

namespace Fralto.Web.Listings;

/// <summary>The tags of a controller with what they read now.</summary>
internal static class TagListing
{
    public const string Name = "tags";

    /// <summary>Lists the tags.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="runtime">Tells ages.</param>
    /// <param name="controller">The controller.</param>
    public static Listing<Tag> Of(PlantModel model, EngineSnapshot snapshot, PlantRuntime runtime, Controller controller)
    {
        var rules = controller.Protocol.Rules();
        TagReading? Reading(Tag tag) => snapshot.Reading(tag.Id);
        string Quality(Tag tag) =>
            snapshot.Brief(tag.Id) is not var (status, _, _) ? "not read yet"
            : status.IsBad ? "Bad"
            : status.IsGood ? "Good"
            : "Uncertain";
        IEnumerable<CellColumn<Tag>> columns =
        [
            new("name", "Tag", t => t.Name) { Class = "tag", Width = "wide" },
            new("address", "Address", t => t.Address.ToString())
            {
                Class = "tag",
                Cell = t =>
                    new(LinkText.Short(t.Address)) { Title = $"{t.Address}{(t.Register is { } register ? $" ({register.Number})" : "")}" },
            },
            new("type", "Type", t => t.TypeText)
            {
                Class = "muted small",
                IsFacet = true,
                IsSearched = false,
                Width = "narrow",
            },
            new("order", "Order of words", t => t.Address.HasWordOrder && t.Type.Words() > 1 ? t.WordOrder.Letters() : "")
            {
                Class = "muted small",
                IsFacet = rules.HasRegisters,
                IsAside = true,
                IsSearched = false,
                Width = "narrow",
            },
            new("unit", "Unit", t => t.Unit is null ? "" : model.Units.SymbolOf(t.Unit))
            {
                Class = "muted small",
                IsFacet = true,
                IsSearched = false,
                Width = "narrow",
            },
            new("class", "Update class", t => t.UpdateClass ?? "")
            {
                Class = "muted small",
                IsFacet = !controller.UpdateClasses.IsEmpty,
                IsAside = controller.UpdateClasses.IsEmpty,
                IsSearched = false,
                Width = "narrow",
            },
            new("range", "Range", t => t.Range is { } r ? $"{ValueText.Plain(r.Low)} … {ValueText.Plain(r.High)}" : "")
            {
                Class = "muted small",
                IsAside = true,
                IsSearched = false,
                Number = t => t.Range?.High ?? double.NaN,
            },
            new("raw", "Raw now", t => ValueText.Raw(t, snapshot.ReadingsOf(t)))
            {
                IsRight = true,
                IsSearched = false,
                Number = t => snapshot.Brief(t.Id)?.Raw ?? double.NaN,
                Cell = t =>
                    new(ValueText.Raw(t, snapshot.ReadingsOf(t)))
                    {
                        Value = $"tag.{t.Id}",
                        ValueClass = ValueText.Quality(Reading(t)?.Status ?? default),
                    },
            },
            new("age", "Age", t => Age(t))
            {
                Class = "small muted",
                IsSearched = false,
                Width = "narrow",
                Number = t => Reading(t) is { } r ? -r.ReadAt.Ticks : double.NaN,
                Cell = t => new(Age(t)) { Value = $"tag.{t.Id}", Follows = "age" },
            },
            new("feeds", "Feeds", t => Feeds(t))
            {
                Class = "small",
                Cell = t =>
                    model.Index.BindingsOf(t.Id).FirstOrDefault() is { } bound
                        ? new(Feeds(t)) { Href = $"/plant?at={bound.EquipmentId}" }
                        : new("nothing") { Class = "faint" },
            },
            new("used", "Use", t => model.Index.IsUsed(t.Id) ? "used" : "unused")
            {
                Class = "muted small",
                IsFacet = true,
                IsAside = true,
                IsSearched = false,
                Width = "narrow",
            },
            new("changed", "Changes", t => t.IsArray || snapshot.Brief(t.Id) is { Changes: > 1 } ? "has changed" : "never changed")
            {
                IsLive = true,
                Class = "muted small",
                IsFacet = true,
                IsAside = true,
                IsSearched = false,
            },
            new("quality", "Quality", t => Quality(t))
            {
                IsLive = true,
                Class = "small",
                IsFacet = true,
                IsSearched = false,
                Cell = t =>
                    new(Reading(t) is { } r ? ValueText.Reason(r.Status, r.Reason) : "")
                    {
                        Value = $"tag.{t.Id}",
                        Follows = "reason",
                        Title = Reading(t) is { } w ? ValueText.Why(w.Status, w.Reason) : "",
                    },
            },
            new("description", "Description", t => t.Description) { Class = "muted small", Width = "wide" },
            new("acts", "", t => "")
            {
                IsUnsorted = true,
                IsSearched = false,
                Class = "r acts",
                Cell = t => new("") { Content = Acts(model, rules, t) },
            },
        ];
        return new(Name, "tags", () => [.. model.Index.TagsOf(controller.Id)], model, t => $"{t.Id}", [.. columns])
        {
            Page = $"/controllers?at={controller.Id}",
            IsSelectable = true,
        };

        string Feeds(Tag tag)
        {
            var bound = model.Index.BindingsOf(tag.Id).ToArray();
            return bound.Length == 0
                ? ""
                : $"{model.Equipment[bound[0].EquipmentId].Name}{(bound.Length > 1 ? $" +{bound.Length - 1}" : "")}";
        }

        string Age(Tag tag) =>
            Reading(tag) is { } r && snapshot.Plan.TagIndexOf(tag.Id) is >= 0 and var at
                ? ValueText.Age(runtime.AgeOf(snapshot.Plan.Tags[at], r.ReadAt))
                : "";
    }

    private static IHtmlContent Acts(PlantModel model, ProtocolRules rules, Tag tag)
    {
        var page = $"/controllers?at={tag.ControllerId}";
        var write = rules.HasDevice ? null : Html.Act($"{page}&open=write&tag={tag.Id}", "write", $"Write {tag.Name}");
        var change = tag.DeviceId is { } device
            ? Html.Act($"/layouts?at={model.Devices[device].LayoutId}", "layout", $"Layout of {tag.Name}")
            : Html.Act($"{page}&open=tag&tag={tag.Id}", "change", $"Change {tag.Name}");
        return write is null ? change : Html.Of([write, change]);
    }
}
