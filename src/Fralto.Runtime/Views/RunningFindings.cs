using Fralto.Core.Hierarchy;
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

    /// <summary>A value this share of its range beyond its ends is noise of the sensor at zero: common practice, no source.</summary>
    private const double Slack = 0.02;

    /// <summary>What is to be said of the bound values of an instance.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="doubts">What looks wrong of bindings.</param>
    /// <param name="node">The instance.</param>
    public static IEnumerable<Finding> Of(PlantModel model, EngineSnapshot snapshot, DoubtState doubts, Equipment node)
    {
        if (node.TemplateId is not { } template)
            yield break;
        foreach (var property in model.Index.PropertiesOf(template))
        {
            if (
                !property.TakesTag
                || snapshot.Plan.PointIndexOf(node.Id, property.Id) is not (>= 0 and var point)
                || snapshot.Plan.Points[point] is not { Source: PointSource.Tag } known
            )
                continue;
            var value = snapshot.ValueOf(point);
            if (value.Status.IsBad && value.Status != StatusCode.BadWaitingForInitialData)
                yield return new(NoValue, FindingSeverity.Warning, node.Id, property.Name, $"is Bad: {value.Reason ?? value.Status.Name}");
            else if (
                !value.Status.IsBad
                && known.States is null
                && known.Range is { } range
                && double.IsFinite(value.Value)
                && range.FractionOf(value.Value) is < -Slack or > 1 + Slack
            )
                yield return new(
                    OutsideRange,
                    FindingSeverity.Warning,
                    node.Id,
                    property.Name,
                    $"is {known.WithUnit(value.Value, null)}, outside its range of "
                        + $"{known.Text(range.Low, null)} to {known.WithUnit(range.High, null)}"
                );
            foreach (var doubt in doubts.Doubts.GetValueOrDefault((node.Id, property.Id), []))
                yield return new(Doubtful, FindingSeverity.Warning, node.Id, property.Name, $"looks wrong: {doubt.Words}");
        }
    }
}
