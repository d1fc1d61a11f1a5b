using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Templates;
using Fralto.Runtime.Views;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Html;

namespace Fralto.Web.Listings;

/// <summary>The sheet of a template: its properties, each with the template it comes from.</summary>
internal static class PropertyListing
{
    public const string Name = "properties";

    /// <summary>Lists the properties of a template, those of its ancestors first.</summary>
    /// <param name="model">The model.</param>
    /// <param name="view">The template and the selected property.</param>
    /// <param name="selected">The template.</param>
    /// <param name="released">What runs in place of what is said of a property; null where it is the same.</param>
    /// <param name="said">What the address says of the list itself, with "&amp;" behind it when that is anything.</param>
    public static Listing<ResolvedProperty> Of(
        PlantModel model,
        TemplateView view,
        Template selected,
        string said,
        Func<long, string?> released
    )
    {
        string From(ResolvedProperty p) => p.DeclaredBy == selected.Id ? "own" : model.Templates[p.DeclaredBy].Name;
        bool IsRefined(ResolvedProperty p) => p.DeclaredBy != selected.Id && !p.Own.IsEmpty;
        bool IsOn(ResolvedProperty p) => view.SelectedProperty?.Id == p.Id;
        return new(
            Name,
            "properties",
            () => view.Properties,
            model,
            p => ValueText.Plain(p.Id),
            [
                new("property", "Property", p => p.Name)
                {
                    Cell = p =>
                        new(p.Name)
                        {
                            Class = IsOn(p) ? "own" : "",
                            Content = NameOf(
                                $"/templates?{said}at={selected.Id}&property={p.Id}",
                                p.Name,
                                IsRefined(p) ? "plain set" : "plain",
                                IsOn(p),
                                view.Apart.GetValueOrDefault(p.Id),
                                released(p.Id)
                            ),
                            Title = p.Facts.Description ?? (IsRefined(p) ? $"refined by {selected.Name}" : p.Name),
                        },
                },
                new("kind", "Kind", p => TemplateChoices.KindOf(p.Declaration)) { Class = "muted", IsFacet = true },
                new("unit", "Unit", p => model.Units.SymbolOf(p.Facts.Unit))
                {
                    Class = "muted",
                    Width = "narrow",
                    IsFacet = true,
                },
                new("range", "Range", p => RangeOf(model, p)) { Class = "num", Number = p => p.Facts.Range?.High ?? double.NaN },
                new("raw", "Raw or formula", p => RawOf(model, p))
                {
                    Class = "num muted",
                    Cell = p => new(RawOf(model, p)) { Title = p.Facts.Formula ?? model.ScaleOf(p.Facts)?.Words },
                },
                new("limits", "Limits", p => string.Join(" ", p.Limits.Reverse().Select(l => l.Condition.Letters())))
                {
                    Class = "num",
                    Width = "narrow",
                    Number = p => p.Limits.Length is > 0 and var n ? n : double.NaN,
                },
                new("code", "Code", p => p.Code) { Class = "num muted" },
                new("from", "From", From)
                {
                    Class = "muted",
                    Width = "narrow",
                    IsFacet = true,
                    IsSearched = false,
                },
                new("description", "Description", p => p.Facts.Description ?? "")
                {
                    Class = "small muted",
                    Width = "wide",
                    IsAside = true,
                },
            ]
        )
        {
            Page = $"/templates?at={selected.Id}",
            ClassOf = p => IsOn(p) ? "on" : "",
        };
    }

    private static string RangeOf(PlantModel model, ResolvedProperty p) =>
        $"{(p.Facts.StateListId is { } states ? model.StateLists[states].Name : TemplateChoices.RangeText(p.Facts.Range))}{p.Facts.Value}";

    private static string RawOf(PlantModel model, ResolvedProperty p) =>
        p.Facts.Formula is { } formula ? $"= {formula}"
        : p.Facts.ScaleId is { } named ? model.Scales[named].Name
        : model.ScaleOf(p.Facts)?.RawWords ?? "";

    private static IHtmlContent NameOf(string href, string name, string classes, bool isOn, string? apart, string? released) =>
        Html.Of([
            isOn
                ? Html.Of($"<a class=\"{classes}\" href=\"{href}\" aria-current=\"true\">{name}</a>")
                : Html.Of($"<a class=\"{classes}\" href=\"{href}\">{name}</a>"),
            .. released is null
                ? []
                : new[]
                {
                    Html.Of($" <span class=\"unreleased\" tabindex=\"0\" role=\"img\" title=\"{released}\" "),
                    Html.Of($"aria-label=\"unreleased; {released}\">◆</span>"),
                },
            .. apart is null ? [] : new[] { Html.Of($"<span class=\"small waits apart\">{apart}</span>") },
        ]);
}
