namespace Fralto.Core.Scaling;

/// <summary>The shapes of scale, as they are chosen and written.</summary>
public enum ScaleKind
{
    /// <summary>A straight line between two pairs.</summary>
    Linear,

    /// <summary>A factor and what is added.</summary>
    Gain,

    /// <summary>The root of a difference of pressures.</summary>
    SquareRoot,

    /// <summary>Pairs with straight lines between them.</summary>
    Table,

    /// <summary>The curve of a sensor.</summary>
    Sensor,
}
