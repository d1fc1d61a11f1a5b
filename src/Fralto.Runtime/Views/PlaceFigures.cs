using Fralto.Core.Hierarchy;
using Fralto.Core.Pictures;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Runtime.Recording;

namespace Fralto.Runtime.Views;

/// <summary>The key figures of the instances of one template at a place.</summary>
/// <param name="Template">The template.</param>
/// <param name="Drawing">How they are drawn.</param>
/// <param name="Shown">The properties, in the order their values have.</param>
/// <param name="Units">The units, in the order of the plant.</param>
/// <param name="All">How many units there are, those that are not shown with them.</param>
public sealed record PlaceFigures(
    Template Template,
    KeyFigureDrawing Drawing,
    IReadOnlyList<ResolvedProperty> Shown,
    IReadOnlyList<PlaceFigure> Units,
    int All
)
{
    private static readonly TimeSpan Longest = TimeSpan.FromHours(20);

    /// <summary>A strip with more states than this is a hatching that says nothing: a shorter time is shown.</summary>
    private const int MostStates = 16;

    /// <summary>Strips reach back so far: 20 hours, less where states change often.</summary>
    public TimeSpan Back { get; private init; } = Longest;

    /// <summary>Where strips end: now, in ticks.</summary>
    public long Now { get; private init; }

    private const int MostTemplates = 3;
    private const int MostStrips = 8;
    private const int MostOthers = 24;

    /// <summary>What is drawn of it, in words.</summary>
    public string Caption =>
        $"{string.Join(", ", Shown.Select(p => p.Name).Distinct())}{(UnitOf is { } unit ? $", {unit}" : "")}"
        + (Drawing is KeyFigureDrawing.Bars or KeyFigureDrawing.Columns && RangeOf is { } range ? $"; full is {range.High:0.##}" : "")
        + (Drawing == KeyFigureDrawing.Strips ? $", the last {TrendTime.Length(Back.TotalSeconds)}" : "");

    /// <summary>The unit numbers are shown in; null for none, or where they differ.</summary>
    public string? UnitOf =>
        Units.SelectMany(u => u.Values).Select(v => v?.Point.Unit?.Symbol).OfType<string>().Distinct().ToArray() is [var one] ? one : null;

    /// <summary>The range of the first number that is shown.</summary>
    public Span? RangeOf =>
        Units.SelectMany(u => u.Values).Select(v => v?.Point).FirstOrDefault(p => p?.States is null && p?.Range is not null)?.Range;

    /// <summary>Which of the properties shown is the first number.</summary>
    public int NumberAt => Math.Max(0, Shown.TakeWhile(p => !p.Declaration.Type.IsNumeric()).Count());

    /// <summary>What all of it adds up to, in words, where that says something; null where it does not.</summary>
    /// <param name="model">The model.</param>
    public string? Sum(PlantModel model)
    {
        var at = Shown.Select((p, i) => (p, i)).Where(p => KeyFigures.IsSum(p.p, model.Units)).Select(p => (int?)p.i).FirstOrDefault();
        if (at is not { } which || Units.Count < All)
            return null;
        var known = Units.Select(u => u.NumberOf(which)).OfType<double>().ToArray();
        var point = Units.Select(u => u.Values[which]?.Point).FirstOrDefault(p => p is not null);
        return known.Length < 2 || point is null ? null : $"{point.WithUnit(known.Sum(), null)} in {known.Length}";
    }

    /// <summary>The key figures of what stands at and below a node.</summary>
    /// <param name="model">The model that runs.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="trends">What was recorded.</param>
    /// <param name="node">The node.</param>
    public static IReadOnlyList<PlaceFigures> Of(PlantModel model, EngineSnapshot snapshot, Trends trends, Equipment node)
    {
        var (found, now) = (new List<PlaceFigures>(), trends.Now);
        foreach (var same in model.Index.Below(node.Id).Where(e => e.TemplateId is not null).GroupBy(e => e.TemplateId!.Value))
        {
            if (found.Count == MostTemplates)
                break;
            var nominated = model.Index.PropertiesOf(same.Key).Where(p => p.Facts.IsKeyFigure == true).ToArray();
            if (nominated.Length == 0)
                continue;
            var all = same.Count();
            if (KeyFigures.Choose(nominated, model, all) is not { } chosen)
                continue;
            var units = same.Take(chosen.Drawing == KeyFigureDrawing.Strips ? MostStrips : MostOthers)
                .Select(e =>
                    FigureOf(
                        snapshot,
                        trends,
                        e,
                        chosen.Drawing,
                        chosen.Shown,
                        e.ParentId is { } id ? model.Equipment.GetValueOrDefault(id)?.Name : null
                    )
                )
                .ToArray();
            // Where nothing runs yet there is nothing to show.
            if (units.All(u => u.Values.All(v => v is null)))
                continue;
            found.Add(new(model.Templates[same.Key], chosen.Drawing, chosen.Shown, units, all) { Back = BackOf(units, now), Now = now });
        }
        return found;
    }

    private static TimeSpan BackOf(IReadOnlyList<PlaceFigure> units, long now)
    {
        var often = units.Where(u => u.Strip.Count > MostStates).ToArray();
        if (often.Length == 0)
            return Longest;
        var ticks = often.Min(u => now - u.Strip[^MostStates].From);
        return Array.Find(Lengths, l => l.Ticks >= ticks) is { Ticks: > 0 } length ? length : Longest;
    }

    private static readonly TimeSpan[] Lengths =
    [
        .. new[] { 1, 5, 10, 20, 40, 60, 120, 240, 480, 720 }.Select(m => TimeSpan.FromMinutes(m)),
    ];

    private static PlaceFigure FigureOf(
        EngineSnapshot snapshot,
        Trends trends,
        Equipment node,
        KeyFigureDrawing drawing,
        IReadOnlyList<ResolvedProperty> shown,
        string? parent
    )
    {
        var values = shown
            .Select(p =>
                snapshot.Find(node.Id, p.Id) is { } found ? ((PlanPoint, Core.Engine.PointValue)?)(found.Point, found.Value) : null
            )
            .ToArray();
        return new(
            node,
            LabelOf(node.PartId is null ? node.Name : parent ?? node.Name),
            values,
            drawing == KeyFigureDrawing.Strips && values[0] is { } state ? trends.Lately(state.Item1, Longest) : []
        );
    }

    private static string LabelOf(string name)
    {
        var digits = name.Length;
        while (digits > 0 && char.IsAsciiDigit(name[digits - 1]))
            digits--;
        return digits < name.Length && name.Length - digits <= 4 ? name[digits..] : name;
    }
}
