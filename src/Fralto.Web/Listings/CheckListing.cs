using Fralto.Core.Plant;
using Fralto.Core.Proposals;
using Fralto.Web.Live;

namespace Fralto.Web.Listings;

/// <summary>The bindings that are to be looked at.</summary>
internal static class CheckListing
{
    public const string Name = "checks";

    /// <summary>Lists the bindings.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="runtime">Tells ages.</param>
    /// <param name="look">The units this person looks at values in.</param>
    /// <param name="source">Changes when the lines do.</param>
    /// <param name="known">What looks wrong, as far as it is known.</param>
    /// <param name="page">The page's address.</param>
    /// <param name="lines">Makes the lines: what looks wrong first.</param>
    public static Listing<CheckLine> Of(
        PlantModel model,
        EngineSnapshot snapshot,
        PlantRuntime runtime,
        UnitLook look,
        CheckList source,
        DoubtState known,
        string page,
        Func<IReadOnlyList<CheckLine>> lines
    )
    {
        string Key(CheckLine l) => $"{l.Instance.Id}.{l.Property.Id}";
        string NameOf(CheckLine l) =>
            $"{(l.Instance.PartId is not null && l.Instance.ParentId is { } whole ? $"{model.Equipment[whole].Name} / " : "")}"
            + $"{l.Instance.Name} · {l.Property.Name}";
        string Doubts(CheckLine l) =>
            string.Join(" ", known.Doubts.GetValueOrDefault((l.Instance.Id, l.Property.Id), []).Select(d => d.Words));
        return new(
            Name,
            "bindings",
            lines,
            source,
            Key,
            [
                new("property", "Property", NameOf)
                {
                    Width = "wide",
                    Cell = l =>
                        new(NameOf(l))
                        {
                            Href = $"/bindings?template={l.Instance.TemplateId}&cell={Key(l)}",
                            Title = model.Index.PathOf(l.Instance.Id),
                        },
                },
                new("template", "Template", l => model.Templates[l.Instance.TemplateId!.Value].Name)
                {
                    Class = "muted",
                    IsFacet = true,
                    IsAside = true,
                    IsSearched = false,
                },
                new("controller", "Controller", l => model.Controllers[model.Tags[l.Binding.TagId].ControllerId].Name)
                {
                    Class = "muted",
                    IsFacet = true,
                    IsAside = true,
                    IsSearched = false,
                },
                new("tag", "Tag", l => $"{model.Tags[l.Binding.TagId].Name}{l.Binding.Slice}") { Class = "tag", Width = "wide" },
                new("now", "Now", l => Now(l) is { } v ? ValueText.Of(v.Point, v.Value, look.Of(v.Point, model.Units)) : ValueText.None)
                {
                    IsRight = true,
                    IsSearched = false,
                    Number = l => Now(l)?.Value.Value ?? double.NaN,
                    Cell = l =>
                        new(Now(l) is { } v ? ValueText.Of(v.Point, v.Value, look.Of(v.Point, model.Units)) : ValueText.None)
                        {
                            Value = Key(l),
                            ValueClass = Now(l) is { } q ? ValueText.Quality(q.Value.Status) : "",
                            Title = Now(l) is { } w ? ValueText.Why(w.Value.Status, w.Value.Reason) : "",
                        },
                },
                new("unit", "Unit", l => Now(l) is { } v ? look.Of(v.Point, model.Units).Symbol : "")
                {
                    IsLive = true,
                    Class = "muted",
                    Width = "narrow",
                    IsFacet = true,
                    IsSearched = false,
                },
                new("range", "On its range", l => Now(l) is { } v && ValueText.Fraction(v.Point, v.Value.Value) is { } f ? $"{f:0 %}" : "")
                {
                    Number = l => Now(l) is { } v ? ValueText.Fraction(v.Point, v.Value.Value) ?? double.NaN : double.NaN,
                    IsSearched = false,
                    Class = "strip",
                    Cell = l =>
                        new("")
                        {
                            Content = Now(l) is { } v
                                ? LiveListing.Strip(v.Point, v.Value, Key(l), look.Of(v.Point, model.Units), 110)
                                : null,
                        },
                },
                new("age", "Age", Age)
                {
                    Class = "small",
                    Width = "narrow",
                    IsSearched = false,
                    Number = l => Now(l) is { } v ? -v.Value.ReadAt.Ticks : double.NaN,
                    Cell = l => new(Age(l)) { Value = Key(l), Follows = "age" },
                },
                new("doubt", "What looks wrong", Doubts)
                {
                    IsLive = true,
                    Class = "small",
                    Width = "wide",
                    Cell = l =>
                        Doubts(l) is { Length: > 0 } words ? new ListingCell($"⨯ {words}") { Class = "against", Title = words } : "",
                },
                new("checked", "Checked", l => l.Binding.Checked is { } c ? $"{c.By}, {ValueText.Time(c.At)}" : "")
                {
                    Class = "small muted",
                    Number = l => l.Binding.Checked?.At.Ticks ?? double.NaN,
                },
            ]
        )
        {
            Page = page,
            IsSelectable = true,
        };

        (Core.Planning.PlanPoint Point, Core.Engine.PointValue Value)? Now(CheckLine l) => snapshot.Find(l.Instance.Id, l.Property.Id);

        string Age(CheckLine l) => Now(l) is { } v ? ValueText.Age(runtime.AgeOf(snapshot.Plan.Tags[v.Point.Tag], v.Value.ReadAt)) : "";
    }
}
