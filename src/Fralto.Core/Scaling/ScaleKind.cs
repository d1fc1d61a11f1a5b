namespace Fralto.Core.Scaling;

/// <summary>The shapes of scale, as they are chosen and written.</summary>
public enum ScaleKind
{
    Linear,
    Gain,
    SquareRoot,
    Table,
    Sensor,
}
