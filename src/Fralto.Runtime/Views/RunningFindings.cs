using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Quality;

namespace Fralto.Runtime.Views;

/// <summary>What only running shows of values that come from tags, and what looks wrong of their bindings.</summary>
public static class RunningFindings
{
    /// <summary>A value lies outside the range of its property.</summary>
    public const string OutsideRange = "FR150";

    /// <summary>A bound value is Bad.</summary>
    public const string NoValue = "FR151";

    /// <summary>A binding looks wrong under Check bindings.</summary>
    public const string Doubtful = "FR152";

    /// <summary>The raw numbers of a property do not suit how they are read.</summary>
    public const string Misfit = "FR154";

    /// <summary>What lies outside its range for more than this share of the time is wrong; less may be a disturbance.</summary>
    private const double Mostly = 0.5;

    /// <summary>What is to be said of how raw numbers are read, template by template.</summary>
    /// <param name="model">The model.</param>
    /// <param name="watch">What has been seen.</param>
    public static IEnumerable<(long TemplateId, Finding Finding)> OfSignals(PlantModel model, ValueWatch watch) =>
        from misfit in watch.Misfits
        where model.Templates.ContainsKey(misfit.Key.TemplateId)
        let property = model.Index.PropertiesOf(misfit.Key.TemplateId).FirstOrDefault(p => p.Id == misfit.Key.PropertyId)
        where property is not null
        orderby misfit.Key
        select (
            misfit.Key.TemplateId,
            new Finding(
                Misfit,
                FindingSeverity.Warning,
                0,
                $"{model.Templates[misfit.Key.TemplateId].Name} {property.Name}",
                misfit.Value.Words
            )
        );

    /// <summary>What a point is called in its template.</summary>
    internal static string NameOf(PlantModel model, PlanPoint point) =>
        model.Equipment.GetValueOrDefault(point.EquipmentId) is { } node
        && model.Index.PropertiesOf(node).FirstOrDefault(p => p.Id == point.PropertyId) is { } property
            ? property.Name
            : point.Path[(point.Path.LastIndexOf('/') + 1)..];

    /// <summary>What is to be said of a bound value.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="doubts">What looks wrong of bindings.</param>
    /// <param name="watch">What values have been.</param>
    /// <param name="point">The point.</param>
    public static IEnumerable<Finding> Of(PlantModel model, EngineSnapshot snapshot, DoubtState doubts, ValueWatch watch, int point)
    {
        var known = snapshot.Plan.Points[point];
        if (known.Source != PointSource.Tag)
            yield break;
        var value = snapshot.ValueOf(point);
        if (value.Status.IsBad)
        {
            if (value.Status != StatusCode.BadWaitingForInitialData)
                yield return new(
                    NoValue,
                    FindingSeverity.Warning,
                    known.EquipmentId,
                    NameOf(model, known),
                    $"is Bad: {value.Reason ?? value.Status.Name}"
                );
        }
        else if (known.Range is { } range)
        {
            var (isOutside, share) = (ValueWatch.IsOutside(known, value.Value), watch.ShareOutside(snapshot.Plan, point));
            if (isOutside || share > Mostly)
                yield return new(
                    OutsideRange,
                    share <= Mostly ? FindingSeverity.Hint : FindingSeverity.Warning,
                    known.EquipmentId,
                    NameOf(model, known),
                    $"{(isOutside ? $"is {known.WithUnit(value.Value, null)}," : "lies")} outside its range of "
                        + $"{known.Text(range.Low, null)} to {known.WithUnit(range.High, null)}"
                        + (share is { } of ? $", {Math.Round(of * 100)} % of the time" : "")
                );
        }
        if (doubts.Doubts.TryGetValue((known.EquipmentId, known.PropertyId), out var all))
            foreach (var doubt in all)
                yield return new(Doubtful, FindingSeverity.Warning, known.EquipmentId, NameOf(model, known), $"looks wrong: {doubt.Words}");
    }
}
