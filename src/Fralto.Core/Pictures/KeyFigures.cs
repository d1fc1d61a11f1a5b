using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Units;

namespace Fralto.Core.Pictures;

/// <summary>Chooses how the properties a template names as key figures are drawn: by their types, units and how many instances there
/// are.</summary>
public static class KeyFigures
{
    /// <summary>More units than this are no bars with words any more, but columns.</summary>
    private const int MostBars = 12;

    /// <summary>The drawing, and the properties it shows in their order; null where nothing of it can be drawn.</summary>
    /// <param name="nominated">The key figures of a template, in its order.</param>
    /// <param name="model">The model, for units and state lists.</param>
    /// <param name="instances">How many instances there are.</param>
    public static (KeyFigureDrawing Drawing, IReadOnlyList<ResolvedProperty> Shown)? Choose(
        IReadOnlyList<ResolvedProperty> nominated,
        PlantModel model,
        int instances
    )
    {
        var units = model.Units;
        var lamp = nominated.FirstOrDefault(p => IsLamp(p, model));
        var state = nominated.FirstOrDefault(p => p.Declaration.Type == PropertyType.State && !IsLamp(p, model));
        var numbers = nominated.Where(p => p.Declaration.Type.IsNumeric()).ToArray();
        var filling = numbers.FirstOrDefault(p => IsFilling(p, units));
        if (state is not null)
            return filling is not null && instances <= MostBars
                ? (KeyFigureDrawing.Bars, [state, filling])
                : (KeyFigureDrawing.Strips, [state, .. numbers.Take(2)]);
        if (numbers.GroupBy(p => p.Facts.Unit).FirstOrDefault(g => g.Count() > 1 && !g.Any(p => IsFilling(p, units))) is { } depths)
            return (KeyFigureDrawing.Depths, [.. depths]);
        if (filling is not null)
            return (KeyFigureDrawing.Columns, [filling, .. numbers.Where(p => p.Id != filling.Id && IsSum(p, units)).Take(1)]);
        return lamp is not null ? (KeyFigureDrawing.Lamps, [lamp, .. numbers.Take(1)])
            : numbers.Length > 0 ? (KeyFigureDrawing.Dots, [numbers[0]])
            : null;
    }

    /// <summary>True where units of it can be added up to say something of all: mass and volume.</summary>
    public static bool IsSum(ResolvedProperty property, UnitSet units) =>
        DimensionOf(property, units) is { } d && (d == Dimension.Of(BaseQuantity.Mass) || d == Dimension.Of(BaseQuantity.Length, 3));

    /// <summary>True for what is one of two: true or false, or a state of a list of two.</summary>
    private static bool IsLamp(ResolvedProperty property, PlantModel model) =>
        property.Declaration.Type == PropertyType.Boolean
        || (
            property.Declaration.Type == PropertyType.State
            && property.Facts.StateListId is { } id
            && model.StateLists.GetValueOrDefault(id)?.States.Length <= 2
        );

    /// <summary>True for what fills a vessel from the bottom: a level, a mass, a volume, from nothing.</summary>
    private static bool IsFilling(ResolvedProperty property, UnitSet units) =>
        property.Facts.Range is { Low: 0, High: > 0 }
        && (IsSum(property, units) || DimensionOf(property, units) == Dimension.Of(BaseQuantity.Length));

    private static Dimension? DimensionOf(ResolvedProperty property, UnitSet units) =>
        property.Facts.Unit is { } code ? units.Find(code)?.Dimension : null;
}
