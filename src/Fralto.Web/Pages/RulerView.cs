using Fralto.Core.Limits;
using Fralto.Core.Pictures;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Templates;
using Fralto.Web.Live;

namespace Fralto.Web.Pages;

/// <summary>A ruler with what stands around it.</summary>
/// <param name="Model">The model.</param>
/// <param name="Template">The template it is shown on.</param>
/// <param name="Property">The property as it is saved.</param>
/// <param name="Ruler">The ruler; null without a range.</param>
/// <param name="Beyond">Instances that would be beyond a limit now, of those with a value.</param>
/// <param name="Living">Instances with a value.</param>
/// <param name="Note">Why it is not what the form says; null when it is.</param>
public sealed record RulerView(
    PlantModel Model,
    Template Template,
    ResolvedProperty Property,
    Ruler? Ruler,
    int Beyond,
    int Living,
    string? Note
)
{
    /// <summary>Where the instances were in the last day; null where nothing is known.</summary>
    public TimeOnRange? Past { get; init; }

    /// <summary>The share of that time beyond the limits as they stand in the form.</summary>
    public double PastBeyond { get; init; }

    /// <summary>Width of the ruler's picture.</summary>
    public const double Width = 1010;

    private const int MostDots = 60;

    /// <summary>The ruler of a property with certain facts, which need not be those saved.</summary>
    public static RulerView Of(
        PlantModel model,
        EngineSnapshot snapshot,
        Template template,
        ResolvedProperty property,
        PropertyPatch facts,
        Fralto.Runtime.Recording.Trends trends,
        string? note = null
    )
    {
        var (limits, normal) = (facts.LimitsInForce, Limit.NormalOf(facts.LimitsInForce));
        var unit = model.Units.SymbolOf(facts.Unit);
        var values = new List<RulerValue>();
        var (beyond, living) = (0, 0);
        foreach (var instance in model.Index.FamilyOf(template.Id).SelectMany(t => model.Index.InstancesOf(t.Id)))
        {
            if (snapshot.Find(instance.Id, property.Id) is not ({ } point, { Status.IsBad: false } value) || !double.IsFinite(value.Value))
                continue;
            living++;
            var outside = !normal.Contains(value.Value);
            if (outside)
                beyond++;
            if (values.Count >= MostDots)
                continue;
            var reading = snapshot.ReadingOf(point.Tag);
            values.Add(
                new(
                    instance.Name,
                    value.Value,
                    outside || !value.Status.IsGood,
                    $"{instance.Name}: {ValueText.Of(point, value.Value)} {unit}, raw "
                        + $"{ValueText.Raw(reading.Raw)}{(value.Status.IsGood ? "" : $", {ValueText.Why(value.Status, value.Reason)}")}"
                )
            );
        }
        var ruler = Ruler.Of(limits, model.ChainOf(facts, null, null), values, Width);
        var past = ruler is null
            ? null
            : trends.LastDay(
                property.Id,
                [.. model.Index.FamilyOf(template.Id).SelectMany(t => model.Index.InstancesOf(t.Id)).Select(e => e.Id)],
                ruler.Range
            );
        return new(model, template, property, ruler, beyond, living, note)
        {
            Past = past is { Instances: > 0 } ? past : null,
            PastBeyond = past?.Outside(normal) ?? 0,
        };
    }
}
