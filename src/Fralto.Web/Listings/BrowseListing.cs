using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Links;
using Fralto.Web.Live;

namespace Fralto.Web.Listings;

/// <summary>What a controller tells of itself, to take tags from.</summary>
internal static class BrowseListing
{
    public const string Name = "found";

    /// <summary>Lists what was found.</summary>
    /// <param name="model">The model.</param>
    /// <param name="controller">The controller.</param>
    /// <param name="result">What was found.</param>
    /// <param name="page">The page's address.</param>
    public static Listing<SourceItem> Of(PlantModel model, Controller controller, BrowseResult result, string page)
    {
        var declared = new Lazy<Dictionary<string, Tag>>(() =>
            model.Index.TagsOf(controller.Id).GroupBy(t => t.Address.Place).ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal)
        );
        Tag? TagOf(SourceItem item) => declared.Value.GetValueOrDefault(item.Address.Place);
        string Branch(SourceItem item) => string.Join('/', item.Path.SkipLast(1));
        string Unit(SourceItem item) =>
            $"{item.Unit}{(item.Range is { } range ? $" {ValueText.Plain(range.Low)} … {ValueText.Plain(range.High)}" : "")}";
        string Could(SourceItem item) =>
            TagOf(item) is not null ? "a tag already"
            : item.Address.KeepingProblem() is not null ? "cannot be taken"
            : "new";
        return new(
            Name,
            "items",
            () => result.Items,
            (result, model),
            i => i.Address.ToString(),
            [
                new("path", "Path", i => i.PathText)
                {
                    Class = "tag",
                    Width = "wide",
                    Cell = i => new(i.PathText) { Title = i.Address.ToString() },
                },
                new("branch", "Branch", Branch)
                {
                    IsFacet = true,
                    IsAside = true,
                    IsSearched = false,
                },
                new("type", "Type", i => $"{i.Type.Word()}{(i.Count > 1 ? $"[{i.Count}]" : "")}")
                {
                    Class = "muted small",
                    IsFacet = true,
                    IsSearched = false,
                    Width = "narrow",
                },
                new("value", "Value", i => i.Value) { IsRight = true, Class = "num" },
                new("unit", "Unit, range", Unit)
                {
                    Class = "muted small",
                    IsSearched = false,
                    Cell = i =>
                        i.Unit is not null && model.Units.Match(i.Unit) is null
                            ? new ListingCell($"{Unit(i)} (not a unit Fralto knows)") { Title = model.Units.Unknown(i.Unit) }
                            : new ListingCell(Unit(i)),
                },
                new("description", "Description", i => i.Description)
                {
                    Class = "muted small",
                    Width = "wide",
                    Cell = i =>
                        new(
                            i.Rights.Length == 0 ? i.Description
                            : i.Description.Length == 0 ? i.Rights
                            : $"{i.Description} ({i.Rights})"
                        ),
                },
                new("could", "Could be taken", Could)
                {
                    IsFacet = true,
                    IsSearched = false,
                    Class = "small muted",
                    Cell = i =>
                        TagOf(i) is { } tag ? new ListingCell($"● {tag.Name}") { Title = "a tag already" }
                        : i.Address.KeepingProblem() is { } why
                            ? new ListingCell("⨯ cannot be taken") { Title = why, Class = "small against" }
                        : new ListingCell("new"),
                },
            ]
        )
        {
            Page = page,
            IsSelectable = true,
            Empty = "Nothing was found.",
        };
    }
}
