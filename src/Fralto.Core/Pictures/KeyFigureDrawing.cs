namespace Fralto.Core.Pictures;

/// <summary>How key figures of the instances of a template are drawn.</summary>
public enum KeyFigureDrawing
{
    /// <summary>A bar a unit, filled as far as its range, with its state in words.</summary>
    Bars,

    /// <summary>A unit's quantity at several depths, as they lie.</summary>
    Depths,

    /// <summary>States over time, a strip a unit on one axis, with the newest values beside it.</summary>
    Strips,

    /// <summary>Filled or hollow, for one of two states.</summary>
    Lamps,

    /// <summary>Many columns, filled as far as their range.</summary>
    Columns,

    /// <summary>Dots on one ruler, with the limits.</summary>
    Dots,
}
