using Fralto.Core.Engine;
using Fralto.Core.Hierarchy;
using Fralto.Core.Planning;
using Fralto.Runtime.Recording;

namespace Fralto.Runtime.Views;

/// <summary>The key figures of one unit, as its place shows them.</summary>
/// <param name="Node">The unit.</param>
/// <param name="Label">What tells it from its neighbours: the number its name ends with, or its name.</param>
/// <param name="Values">Its values, in the order of the properties shown; null where nothing runs.</param>
/// <param name="Strip">The states it was in, one after the other; empty where none are drawn.</param>
public sealed record PlaceFigure(
    Equipment Node,
    string Label,
    IReadOnlyList<(PlanPoint Point, PointValue Value)?> Values,
    IReadOnlyList<TrendStretch> Strip
)
{
    /// <summary>True where one of its values is beyond a limit, or its state abnormal.</summary>
    public bool IsAbnormal => Values.Any(v => v is { } known && !known.Value.Status.IsBad && known.Value.IsAbnormalOf(known.Point));

    /// <summary>The number of a property that is not Bad; null where there is none.</summary>
    /// <param name="shown">Which of the properties shown.</param>
    public double? NumberOf(int shown) =>
        shown < Values.Count && Values[shown] is { Value.Status.IsBad: false } known && double.IsFinite(known.Value.Value)
            ? known.Value.Value
            : null;

    /// <summary>A value in words, with its unit; a dash where there is none.</summary>
    /// <param name="shown">Which of the properties shown.</param>
    /// <param name="withUnit">True with the unit.</param>
    public string TextOf(int shown, bool withUnit = false) =>
        shown >= Values.Count || Values[shown] is not { } known || known.Value.Status.IsBad ? "–"
        : withUnit ? known.Point.WithUnit(known.Value.Value, known.Value.Text)
        : known.Point.Text(known.Value.Value, known.Value.Text);
}
