namespace Fralto.Core.Bindings;

/// <summary>How a simulated value moves.</summary>
public enum SimulationShape
{
    /// <summary>It stays where it was set.</summary>
    Held,

    /// <summary>A sine between low and high.</summary>
    Wave,

    /// <summary>Straight up and straight down.</summary>
    Ramp,

    /// <summary>Through the whole numbers from low to high, each as long as the others.</summary>
    Steps,
}
