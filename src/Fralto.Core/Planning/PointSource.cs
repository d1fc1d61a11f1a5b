namespace Fralto.Core.Planning;

/// <summary>Where a point's value comes from.</summary>
public enum PointSource
{
    /// <summary>A tag of a controller, or what stands in for it.</summary>
    Tag,

    /// <summary>A formula.</summary>
    Formula,

    /// <summary>Somebody enters it.</summary>
    Entered,

    /// <summary>The model says it.</summary>
    Fixed,
}
